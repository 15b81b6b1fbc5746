<script setup lang="ts">
import { mdiMagnify, mdiRedoVariant, mdiUndoVariant, mdiWeatherNight, mdiWhiteBalanceSunny } from '@mdi/js'
import { useTheme } from 'vuetify'

const emit = defineEmits<{ find: [] }>()
const site = useSite()
const field = useField()
const session = useSession()
const theme = useTheme()
const saveWords = { saved: 'saved', pending: 'pending', saving: 'saving', unreachable: 'kept here, server away', conflict: 'in conflict' } as const
const now = useNow({ interval: 10_000 })
const clock = computed(() => now.value.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit', ...(site.plan ? { timeZone: site.plan.site.timeZone } : {}) }))
const isNight = computed(() => theme.global.name.value === 'night')
const switchTheme = (): void => void theme.change(isNight.value ? 'day' : 'night')
async function leave(): Promise<void> {
  await session.leave()
  await navigateTo('/enter')
}
</script>

<template>
  <header class="strip">
    <NuxtLink to="/" class="home label" title="All sites">Able Mast</NuxtLink>
    <template v-if="site.plan">
      <span class="site label">{{ site.plan.site.name }}</span>
      <span class="save mono" :class="site.saveState" role="status">rev {{ site.revision }} {{ saveWords[site.saveState] }}</span>
      <span class="row tight">
        <v-btn :icon="mdiUndoVariant" size="x-small" variant="text" :disabled="site.history.done.length === 0" :title="site.history.done.at(-1) ? `Undo: ${site.history.done.at(-1)!.summary}` : 'Nothing to undo'" aria-label="Undo" @click="site.undoLast()" />
        <v-btn :icon="mdiRedoVariant" size="x-small" variant="text" :disabled="site.history.undone.length === 0" :title="site.history.undone.at(-1) ? `Redo: ${site.history.undone.at(-1)!.summary}` : 'Nothing to redo'" aria-label="Redo" @click="site.redoLast()" />
      </span>
    </template>
    <button class="find" type="button" @click="emit('find')">
      <v-icon :icon="mdiMagnify" size="16" /><span class="wide">find or do</span><kbd class="mono wide">/</kbd>
    </button>
    <span class="who wide">{{ session.account?.name }}</span>
    <span class="mono wide" :title="site.plan ? `Time in ${site.plan.site.timeZone}` : 'Time'">{{ clock }}</span>
    <span v-if="site.plan && field.loaded && !field.live" class="mark cautions"><ShellStateShape kind="cautions" />not live</span>
    <v-btn :icon="isNight ? mdiWhiteBalanceSunny : mdiWeatherNight" size="x-small" variant="text" :aria-label="isNight ? 'Day theme' : 'Night theme'" @click="switchTheme" />
    <v-btn size="small" variant="text" @click="leave">Sign out</v-btn>
  </header>
</template>

<style scoped>
.strip { display: flex; align-items: center; gap: 12px; min-height: 44px; padding: 0 14px; background: var(--desk); border-bottom: 1px solid var(--hair); }
.home { white-space: nowrap; font-weight: 700; color: var(--ink); text-decoration: none; letter-spacing: 0.02em; }
.site { font-size: 16px; font-weight: 600; border-left: 1px solid var(--hair); padding-left: 12px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.save { color: var(--faint); white-space: nowrap; } .save.unreachable { color: var(--caution); } .save.conflict { color: var(--blocker); }
.tight { gap: 0; flex-wrap: nowrap; }
.find { margin-left: auto; display: flex; align-items: center; gap: 8px; border: 1px solid var(--hair); background: var(--paper); color: var(--faint); padding: 3px 10px; min-width: 34px; font: inherit; border-radius: 2px; cursor: pointer; }
.find kbd { border-left: 1px solid var(--hair); padding-left: 8px; }
.who { white-space: nowrap; }
@media (max-width: 800px) { .wide { display: none; } .strip { gap: 6px; padding: 0 8px; } .save { font-size: 11px; } .find { min-height: 36px; } }
</style>
