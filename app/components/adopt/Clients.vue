<script setup lang="ts">
/** Who is on the air: where, how well, since when, how much; who is limited or shut out. */
import { clientName, drainingClients, octetsText, plannedClient } from '@mast/core/adoption'
import type { ClientOnAir } from '@mast/api'
import type { Column } from '../rows/column'

const site = useSite()
const field = useField()
const rows = computed(() =>
  field.clients.map((client) => ({
    id: client.hardwareAddress,
    client,
    name: clientName(site.opened.model, client),
    planned: plannedClient(site.opened.model, client.hardwareAddress),
  })),
)
type Row = (typeof rows.value)[number]
/** Longer ago it is not on the air any more: two reports, ms. */
const GONE_MS = 90_000
const now = useNow({ interval: 5000 })
const isHere = ({ client: c }: Row): boolean =>
  c.seenAt !== null && now.value.getTime() - new Date(c.seenAt).getTime() < GONE_MS
const pointName = (c: ClientOnAir): string =>
  (c.deviceId && site.plan?.devices[c.deviceId]?.name) ?? 'never heard'
const draining = computed(
  () =>
    new Set(
      drainingClients(site.opened.model, field.clients, field.standins?.speed ?? 1).map(
        (d) => d.client.hardwareAddress,
      ),
    ),
)
const held = ({ client: c }: Row): string =>
  c.isShut
    ? 'shut out'
    : c.limitKbps === null
      ? ''
      : `held to ${c.limitKbps >= 1000 ? `${c.limitKbps / 1000} Mbit/s` : `${c.limitKbps} kbit/s`}`
const sum = (of: ClientOnAir['day']): number => of.downOctets + of.upOctets
const columns: readonly Column<Row>[] = [
  { key: 'name', title: 'Client', value: (r) => r.name },
  { key: 'at', title: 'At', value: (r) => pointName(r.client) },
  { key: 'network', title: 'Network', value: (r) => r.client.network ?? '', isHidden: true },
  {
    key: 'signal',
    title: 'Signal',
    value: (r) => r.client.signalDbm ?? -999,
    text: (r) => (r.client.signalDbm === null ? '' : `${r.client.signalDbm} dBm`),
    mono: true,
  },
  {
    key: 'since',
    title: 'Since',
    value: (r) => r.client.joinedAt ?? '',
    text: (r) =>
      !r.client.joinedAt
        ? ''
        : isHere(r)
          ? timeText(r.client.joinedAt)
          : `left ${timeText(r.client.seenAt!)}`,
    mono: true,
  },
  {
    key: 'hour',
    title: 'Last hour',
    value: (r) => sum(r.client.hour),
    text: (r) => octetsText(sum(r.client.hour)),
    mono: true,
  },
  {
    key: 'day',
    title: 'Today',
    value: (r) => sum(r.client.day),
    text: (r) => octetsText(sum(r.client.day)),
    mono: true,
  },
  { key: 'held', title: 'Held', value: held, isHidden: true },
]
const READ_AGAIN_MS = 15_000
useIntervalFn(() => void field.readClients().catch(() => {}), READ_AGAIN_MS, {
  immediateCallback: true,
})
const open = ref<string | null>(null)
const mayChange = computed(() => site.role === 'owner' || site.role === 'engineer')
const refused = ref<string | undefined>()
async function change(
  client: string,
  changes: Parameters<typeof field.changeClient>[1],
): Promise<void> {
  refused.value = await field.changeClient(client, changes)
}
const named = (client: string, text: string): string | undefined => {
  void change(client, { name: text === '' ? null : text })
  return undefined
}
const limited = (client: string, text: string): string | undefined => {
  const mbps = Number(text)
  if (text !== '' && !(mbps >= 0.001 && mbps <= 10_000)) return 'a speed from 0.001 to 10000 Mbit/s'
  void change(client, { limitKbps: text === '' ? null : Math.round(mbps * 1000) })
  return undefined
}
</script>

<template>
  <section v-if="rows.length" aria-label="Clients">
    <h2>Clients</h2>
    <p class="faint">
      {{ rows.filter(isHere).length }} on the air,
      {{ octetsText(rows.reduce((n, r) => n + sum(r.client.day), 0)) }} moved today. What they
      carry, nobody looks into.
    </p>
    <div class="scroll-x">
      <LazyRowsDataTable
        :rows="rows"
        :columns="columns"
        what="clients"
        :groups="['at', 'network', 'held']"
        :open="open"
        @open="(id: string) => (open = open === id ? null : id)"
      >
        <template #cell-name="{ row: r }"
          >{{ r.name
          }}<span class="beneath faint mono"
            >{{ r.client.hardwareAddress }} {{ r.client.address ?? '' }}</span
          ><span v-if="held(r)" class="beneath mark cautions"
            ><ShellStateShape kind="cautions" />{{ held(r) }}</span
          ><span v-else-if="draining.has(r.id)" class="beneath mark cautions"
            ><ShellStateShape kind="cautions" />takes the line from the others</span
          ></template
        >
        <template #cell-at="{ row: r }"
          >{{ pointName(r.client)
          }}<span class="beneath faint">{{ r.client.network }}</span></template
        >
        <template #form="{ row: r }">
          <div class="in-place">
            <LazyAdoptClientTraffic :client="r.id" :until="r.client.seenAt" />
            <p class="faint">
              {{
                r.planned
                  ? `In the plan as ${r.planned.name}.`
                  : 'Nobody planned it: it may be a guest, or a host whose hardware address is not in the plan.'
              }}
              <v-btn
                v-if="r.planned"
                size="small"
                variant="text"
                :to="`/s/${site.opened.id}/survey`"
                @click="site.selected = r.planned.id"
                >Show it</v-btn
              >
            </p>
            <div v-if="mayChange" class="row">
              <FieldsEditField
                class="short"
                label="Called"
                :value="r.client.name"
                :save="(t) => named(r.id, t)"
              />
              <FieldsEditField
                class="short"
                label="Held to"
                suffix="Mbit/s"
                type="number"
                :value="r.client.limitKbps === null ? null : r.client.limitKbps / 1000"
                :save="(t) => limited(r.id, t)"
              />
              <v-btn
                :color="r.client.isShut ? undefined : 'error'"
                variant="outlined"
                @click="change(r.id, { isShut: !r.client.isShut })"
                >{{ r.client.isShut ? 'Let it back in' : 'Shut it out' }}</v-btn
              >
            </div>
            <p v-if="r.client.isShut" class="faint">
              It is kept out by its hardware address at every access point. A host can take another
              one: a new key keeps out for good.
            </p>
            <Refusal :says="refused" />
          </div>
        </template>
      </LazyRowsDataTable>
    </div>
  </section>
</template>

<style scoped>
.beneath {
  display: block;
  font-size: 12.5px;
}
.in-place {
  padding: 10px 14px;
}
.short {
  max-width: 220px;
}
</style>
