<script setup lang="ts">
import {
  mdiMagnify,
  mdiRedoVariant,
  mdiUndoVariant,
  mdiWeatherNight,
  mdiWhiteBalanceSunny,
} from '@mdi/js'
import { useTheme } from 'vuetify'
import type { SaveState } from '~/offline/workingCopy'
import { unsentCount } from '~/offline/browserStore'

const emit = defineEmits<{ find: [] }>()
const site = useSite()
const field = useField()
const session = useSession()
const theme = useTheme()
const saveWords = computed((): Record<SaveState, string> => ({
  saved: 'saved',
  pending: 'pending',
  saving: 'saving',
  conflict: `+ ${site.held.length} to decide`,
  'signed-out': 'sign in to save',
  unreachable:
    unsent.value > 0
      ? `+ ${unsent.value} ${unkept.value > 0 ? 'not saved' : 'kept here'}, server away`
      : 'server away',
}))
const unsent = computed(() => site.unsaved + field.acts.length)
/** What neither the server nor this browser has goes with the page. */
const unkept = computed(() => site.unkept + field.unkept)
useEventListener(window, 'beforeunload', (e) => {
  if (unkept.value > 0) e.preventDefault()
})
const now = useNow({ interval: 10_000 })
const clock = computed(() =>
  now.value.toLocaleTimeString('en-GB', {
    hour: '2-digit',
    minute: '2-digit',
    ...(site.plan ? { timeZone: site.plan.site.timeZone } : {}),
  }),
)
const isNight = computed(() => theme.global.name.value === 'night')
const switchTheme = (): void => void theme.change(isNight.value ? 'day' : 'night')
const leaving = ref(false)
const waiting = ref(0)
const refused = ref<string | null>(null)
async function leave(): Promise<void> {
  waiting.value = await unsentCount().catch(() => 0)
  if (waiting.value > 0) leaving.value = true
  else await reallyLeave()
}
async function reallyLeave(): Promise<void> {
  // The end of the session is our own doing; the open stream need not tell of it.
  field.unfollow()
  try {
    await session.leave()
    site.close()
    leaving.value = false
    await navigateTo('/enter')
  } catch (error) {
    refused.value = errorText(error)
    leaving.value = true
    if (site.id) void field.follow()
  }
}
</script>

<template>
  <header>
    <div class="strip">
      <NuxtLink to="/" class="home label" title="All sites">Able Mast</NuxtLink>
      <template v-if="site.plan">
        <span class="site label">{{ site.plan.site.name }}</span>
        <NuxtLink
          :to="`/s/${site.id}/history`"
          class="save mono"
          :class="site.saveState"
          title="History of this site"
          ><span role="status"
            >rev {{ site.revision }} {{ saveWords[site.saveState] }}</span
          ></NuxtLink
        >
        <span class="row tight">
          <v-btn
            :icon="mdiUndoVariant"
            size="x-small"
            variant="text"
            :disabled="site.history.done.length === 0"
            :title="
              site.history.done.at(-1)
                ? `Undo: ${site.history.done.at(-1)!.summary}`
                : 'Nothing to undo'
            "
            aria-label="Undo"
            @click="site.undoLast()"
          />
          <v-btn
            :icon="mdiRedoVariant"
            size="x-small"
            variant="text"
            :disabled="site.history.undone.length === 0"
            :title="
              site.history.undone.at(-1)
                ? `Redo: ${site.history.undone.at(-1)!.summary}`
                : 'Nothing to redo'
            "
            aria-label="Redo"
            @click="site.redoLast()"
          />
        </span>
      </template>
      <button class="find" type="button" @click="emit('find')">
        <v-icon :icon="mdiMagnify" size="16" /><span class="wide">find or do</span
        ><kbd class="mono wide">/</kbd>
      </button>
      <NuxtLink v-if="site.plan" :to="`/s/${site.id}/people`" class="who wide">People</NuxtLink>
      <NuxtLink to="/account" class="who wide" title="Account, sessions, password">{{
        session.account?.name
      }}</NuxtLink>
      <span class="mono wide" :title="site.plan ? `Time in ${site.plan.site.timeZone}` : 'Time'">{{
        clock
      }}</span>
      <span v-if="site.plan && field.loaded && !field.live" class="mark cautions"
        ><ShellStateShape kind="cautions" />not live</span
      >
      <v-btn
        :icon="isNight ? mdiWhiteBalanceSunny : mdiWeatherNight"
        size="x-small"
        variant="text"
        :aria-label="isNight ? 'Day theme' : 'Night theme'"
        @click="switchTheme"
      />
      <v-btn size="small" variant="text" @click="leave">Sign out</v-btn>
      <v-dialog v-model="leaving" aria-label="Sign out">
        <v-card class="pa-4" title="Sign out with unsent work?">
          <p>
            {{ waiting }} {{ waiting === 1 ? 'change or tick' : 'changes and ticks' }} made on this
            device did not reach the server. Signing out forgets them.
          </p>
          <Refusal :says="refused" />
          <div class="row mt-3">
            <v-btn color="error" @click="reallyLeave">Forget them and sign out</v-btn
            ><v-btn variant="text" @click="leaving = false">Stay</v-btn>
          </div>
        </v-card>
      </v-dialog>
    </div>
    <p v-if="unkept > 0" class="unkept" role="alert">
      <ShellStateShape kind="blockers" :count="unkept" /><span
        >Not kept: this browser has no room for
        {{ unkept === 1 ? 'what you did last' : 'the last things you did' }}. Leave this page open
        until it says saved.</span
      >
    </p>
  </header>
</template>

<style scoped>
.strip {
  display: flex;
  align-items: center;
  gap: 12px;
  min-height: 44px;
  padding: 0 14px;
  background: var(--desk);
  border-bottom: 1px solid var(--hair);
}
.home {
  white-space: nowrap;
  font-weight: 700;
  color: var(--ink);
  text-decoration: none;
  letter-spacing: 0.02em;
}
.site {
  font-size: 16px;
  font-weight: 600;
  border-left: 1px solid var(--hair);
  padding-left: 12px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.save {
  color: var(--faint);
  white-space: nowrap;
  text-decoration: none;
}
.save:hover {
  text-decoration: underline;
}
.save.unreachable,
.save.signed-out {
  color: var(--caution);
}
.save.conflict {
  color: var(--blocker);
}
.unkept :deep(svg) {
  flex: none;
}
.unkept {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 0;
  padding: 6px 14px;
  background: var(--paper);
  color: var(--blocker);
  border-bottom: 1px solid var(--blocker);
  font-size: 14px;
}
.tight {
  gap: 0;
  flex-wrap: nowrap;
}
.find {
  margin-left: auto;
  display: flex;
  align-items: center;
  gap: 8px;
  border: 1px solid var(--hair);
  background: var(--paper);
  color: var(--faint);
  padding: 3px 10px;
  min-width: 34px;
  font: inherit;
  border-radius: 2px;
  cursor: pointer;
}
.find kbd {
  border-left: 1px solid var(--hair);
  padding-left: 8px;
}
.who {
  white-space: nowrap;
  color: var(--ink);
  text-decoration: none;
}
.who:hover {
  text-decoration: underline;
}
@media (max-width: 800px) {
  .wide {
    display: none;
  }
  .strip {
    gap: 6px;
    padding: 0 8px;
  }
  .save {
    line-height: 1.25;
    white-space: normal;
    flex: 2 1 80px;
    min-width: 0;
    font-family: inherit;
    font-size: 12px;
  }
  .home {
    white-space: normal;
    width: 40px;
    line-height: 1.15;
  }
  .site {
    white-space: normal;
    font-size: 13px;
    line-height: 1.2;
    padding-left: 6px;
    flex: 0 1 auto;
    min-width: 52px;
    max-height: 2.4em;
  }
  .find {
    min-height: 36px;
  }
}
</style>
