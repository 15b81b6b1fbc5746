<script setup lang="ts">
/** What the controller has kept of one device, the newest first. */
import { pathOf, readBackup } from '@mast/api'

const props = defineProps<{ deviceId: string }>()
const site = useSite()
const field = useField()
const kept = computed(() => field.kept.filter((b) => b.deviceId === props.deviceId))
const path = (digest: string): string =>
  pathOf(readBackup, { params: { site: site.opened.id, device: props.deviceId, digest } })
onMounted(() => void field.readBackups().catch(() => {}))
</script>

<template>
  <details v-if="kept.length" class="kept">
    <summary>
      Kept {{ kept.length === 1 ? 'once' : `${kept.length} times` }}, last
      {{ momentText(kept[0]!.at) }}
    </summary>
    <ul>
      <li v-for="b in kept" :key="b.at">
        <span class="mono">{{ momentText(b.at) }}</span>, firmware
        <span class="mono">{{ b.firmware ?? '?' }}</span>,
        <a :href="path(b.digest)" download class="mono">{{ b.digest.slice(0, 12) }}</a>
      </li>
    </ul>
  </details>
</template>

<style scoped>
.kept {
  margin: 6px 0;
}
ul {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
</style>
