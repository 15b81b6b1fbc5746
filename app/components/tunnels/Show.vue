<script setup lang="ts">
/** What `wg show` prints on this end, read here: how each peer is, and what to look at first. */
import { explainShow, readShow } from '@mast/core/tunnels'
import { useTunnels } from './useTunnels'

const { tunnel, reckoned } = useTunnels()
const text = ref('')
const said = computed(() => {
  if (!reckoned.value || text.value.trim() === '') return null
  const read = readShow(text.value, Date.now() / 1000)
  return { ...explainShow(reckoned.value, read), problems: read.problems }
})
const mark = { fine: 'clear', stale: 'cautions', 'no-traffic': 'cautions' } as const
</script>

<template>
  <details v-if="tunnel && tunnel.kind !== 'provider'" class="no-print">
    <summary>It does not work: read what this end says</summary>
    <p class="faint">
      Try it inside first: that proves keys and addresses, and neither the port nor the forward.
      Then from outside, over another line. On this end: <span class="mono">wg show</span>.
    </p>
    <v-textarea v-model="text" label="What wg show prints" rows="5" class="shown" />
    <section v-if="said" aria-label="What it says">
      <p v-for="o in said.own" :key="o" role="status">{{ o }}</p>
      <p v-for="p in said.problems" :key="p.line" class="faint">
        line {{ p.line }}: {{ p.reason }}
      </p>
      <div v-for="p in said.peers" :key="p.name">
        <p>
          <ShellStateShape :kind="p.state in mark ? mark[p.state as 'fine'] : 'blockers'" />
          {{ p.text }}
        </p>
        <ol v-if="p.state !== 'fine'">
          <li v-for="c in p.checks" :key="c">{{ c }}</li>
        </ol>
        <p v-else class="faint">{{ p.checks.join(' ') }}</p>
      </div>
    </section>
  </details>
</template>

<style scoped>
.shown :deep(textarea) {
  font-family: var(--mono);
  font-size: 12.5px;
}
</style>
