<script setup lang="ts">
/** The same as the wheel, as a table. */
import { inPlan, own, placeName } from '@mast/core/plan'
import { readHandOuts, type HandOut } from '@mast/api'
import { reachedFrom } from '@mast/core/tunnels'
import { useTunnels } from './useTunnels'

const site = useSite()
const { tunnel, peers, peer, choosePeer } = useTunnels()
const handed = ref<readonly HandOut[]>([])
async function read(): Promise<void> {
  try {
    handed.value = await ask(readHandOuts, { params: { site: site.opened.id } })
  } catch {
    // Without a network the last that was known stays.
  }
}
onMounted(read)
watch(() => site.opened.plan, read)
const rows = computed(() =>
  peers.value.map((p) => {
    const { plan } = site.opened
    const last = handed.value.find((h) => h.peerId === p.peer.id)
    return {
      ...p,
      reaches:
        tunnel.value?.kind === 'provider'
          ? 'the internet, for those that go through it'
          : reachedFrom(plan, p.peer.id)
              .map((r) =>
                r.services.length === Object.keys(plan.services).length
                  ? placeName(plan, r.place)
                  : `${placeName(plan, r.place)} (${[...r.services, ...r.atTimes]
                      .map((s) => own(plan.services, s)?.name ?? s)
                      .join(', ')})`,
              )
              .join(', ') || 'nothing',
      handed: last
        ? last.openedAt
          ? `opened ${momentText(last.openedAt)}`
          : `waits until ${momentText(last.expiresAt)}`
        : p.peer.carriedBy
          ? carriedWords[p.peer.carriedBy]
          : 'not yet',
    }
  }),
)
const carriedWords: Readonly<Record<string, string>> = {
  link: 'by a link',
  picture: 'by a picture',
  'by-hand': 'by hand',
  mail: 'by mail',
  message: 'by message',
  'made-there': 'made there',
}
const mbps = (n: number | null): string => (n === null ? '?' : n < 10 ? n.toFixed(1) : n.toFixed(0))
const hostName = computed(() =>
  tunnel.value ? inPlan(site.opened.plan.devices, tunnel.value.hostDeviceId).name : '',
)
</script>

<template>
  <section v-if="tunnel" aria-label="Peers">
    <h2>
      {{ tunnel.name }} <span class="faint">ends on {{ hostName }}</span>
    </h2>
    <p v-if="rows.length === 0" class="lead">Nobody is at its other end yet.</p>
    <div v-else class="scroll-x">
      <table class="plain" aria-label="Peers of the tunnel">
        <thead>
          <tr>
            <th>Who</th>
            <th>Address</th>
            <th>Reaches</th>
            <th>To it</th>
            <th>From it</th>
            <th>Keepalive</th>
            <th>Key</th>
            <th>Handed out</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="r in rows"
            :key="r.peer.id"
            :class="{ on: r.peer.id === peer?.peer.id }"
            @click="choosePeer(r.peer.id)"
          >
            <td>
              <button type="button" class="linkish" @click.stop="choosePeer(r.peer.id)">
                {{ r.peer.name }}
              </button>
            </td>
            <td class="mono">{{ r.peer.address ?? r.peer.endpoint?.host ?? 'none' }}</td>
            <td>{{ r.reaches }}</td>
            <td class="mono">{{ mbps(r.down.mbps) }} Mbit/s</td>
            <td class="mono">{{ mbps(r.up.mbps) }} Mbit/s</td>
            <td class="mono">
              {{
                r.keepaliveThere || r.keepaliveHere
                  ? `${r.keepaliveThere || r.keepaliveHere} s`
                  : 'none'
              }}
            </td>
            <td>{{ r.peer.publicKey ? 'known' : 'none yet' }}</td>
            <td>{{ r.handed }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
tr.on {
  background: var(--selection);
}
.linkish {
  background: none;
  border: 0;
  padding: 0;
  font: inherit;
  color: var(--action);
  text-align: left;
  cursor: pointer;
}
</style>
