<script setup lang="ts">
/** What stays while one goes from sheet to sheet: the strip, the line, the keys. */
import { sheetOfKey, sheets } from '@mast/core/sheets'
import { stopPath } from '~/composables/stops'

const route = useRoute()
const site = useSite()
const { siteId, failed } = useOpenSite()
const at = computed(() => sheets.findIndex((s) => route.path.endsWith(`/${s.id}`)))
const finding = ref(false)

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const target = event.target as HTMLElement
  const typing =
    target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName)
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z' && !typing) {
    event.preventDefault()
    if (event.shiftKey) site.redoLast()
    else site.undoLast()
    return
  }
  if (typing || event.ctrlKey || event.metaKey || event.altKey) return
  const next =
    event.key === ']'
      ? sheets[at.value + 1]?.id
      : event.key === '['
        ? sheets[at.value - 1]?.id
        : sheetOfKey(event.key)
  if (next) void navigateTo(stopPath(siteId.value, next))
  else if (event.key === '/') {
    event.preventDefault()
    finding.value = true
  } else if (event.key === 'Escape' && !document.querySelector('.v-overlay--active'))
    site.selected = null
})
</script>

<template>
  <div class="frame">
    <ShellTopStrip @find="finding = true" />
    <ShellStopLine :site-id="siteId" :current="sheets[at]?.id ?? ''" />
    <p v-if="failed" class="failed" role="alert">
      {{ failed }} <NuxtLink to="/">All sites</NuxtLink>
    </p>
    <slot v-else />
    <LazyShellFindDialog v-if="finding" v-model="finding" />
  </div>
</template>

<style scoped>
.frame {
  display: flex;
  flex-direction: column;
  height: 100vh;
  height: 100dvh;
}
.failed {
  padding: 24px;
}
@media (max-width: 900px) {
  .frame {
    height: auto;
    min-height: 100dvh;
  }
}
</style>
