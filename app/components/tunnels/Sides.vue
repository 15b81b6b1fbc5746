<script setup lang="ts">
/** Both sides of a tunnel between sites, next to each other: every value that has to match. */
import { useTunnels } from './useTunnels'

const { tunnel, reckoned, peer } = useTunnels()
const rows = computed(() => {
  const [r, p] = [reckoned.value, peer.value]
  if (!r || !p || r.tunnel.kind !== 'sites' || r.tunnel.protocol === 'ikev2') return []
  const list = (texts: readonly string[]): string => texts.join(', ') || 'none'
  return [
    {
      what: 'Public key',
      here: r.tunnel.publicKey ?? 'none yet',
      there: p.peer.publicKey ?? 'none yet',
    },
    {
      what: 'Knows the other by',
      here: p.peer.publicKey ?? 'none yet',
      there: r.tunnel.publicKey ?? 'none yet',
    },
    { what: 'Own address', here: r.ownAddress ?? 'none', there: p.peer.address ?? 'none' },
    {
      what: 'Calls',
      here: p.peer.endpoint
        ? `${p.peer.endpoint.host}:${p.peer.endpoint.port}`
        : 'waits to be called',
      there: p.peer.endpoint
        ? 'waits to be called'
        : r.called
          ? `${r.called.host}:${r.called.port}`
          : (r.whyNot ?? ''),
    },
    { what: 'Takes and sends', here: list(p.allowedHere), there: list(p.allowedThere) },
    {
      what: 'Keepalive',
      here: p.keepaliveHere ? `${p.keepaliveHere} s` : 'none',
      there: p.keepaliveThere ? `${p.keepaliveThere} s` : 'none',
    },
    { what: 'MTU', here: String(r.size.mtu), there: String(r.size.mtu) },
  ]
})
</script>

<template>
  <section v-if="tunnel && rows.length" aria-label="Both sides">
    <h2>Both sides</h2>
    <div class="scroll-x">
      <table class="plain" aria-label="Both sides of the tunnel">
        <thead>
          <tr>
            <th></th>
            <th>Here</th>
            <th>{{ peer!.peer.name }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.what">
            <td>{{ r.what }}</td>
            <td class="mono">{{ r.here }}</td>
            <td class="mono">{{ r.there }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
td {
  overflow-wrap: anywhere;
}
</style>
