<script setup lang="ts">
/** Channels for all radios of a band: as they are, as planned, and how far that is from the best. */
import { editCall } from '@mast/core/plan'
import { widthsOf, type Band, type Width } from '@mast/core/radio'
import { readClientHours } from '@mast/api'
import {
  quietestHour,
  settingsWith,
  unsettledOf,
  unsettledWords,
  type ChannelPlan,
  type ClientHour,
} from '@mast/core/wifi'
import { clockOf, minuteOf } from './minutes'
import { useAirTask } from './useAirTask'

const { band } = defineProps<{ band: Band }>()
const site = useSite()
const { result, isWorking, failed, run, stop } = useAirTask<ChannelPlan>()
const width = ref<Width | null>(null)
const widths = computed(() => [
  { title: 'as they are', value: null },
  ...widthsOf[band].map((w) => ({ title: `${w} MHz`, value: w })),
])
watch(
  () => [band, site.opened.plan],
  () => {
    result.value = null
    stop()
  },
)
const name = (id: string): string => site.opened.plan.devices[id]?.name ?? id
const refused = ref<string | undefined>()
const changed = computed(() => result.value?.radios.filter((r) => r.from !== r.to) ?? [])
function take(): void {
  const planned = result.value
  if (!planned) return
  const ids = [...new Set(planned.radios.map((r) => r.deviceId))]
  refused.value = site.mend(
    `Plan the channels of ${planned.band} GHz`,
    ids.map((id) =>
      editCall('changeDevice', {
        id,
        changes: { radios: settingsWith(site.opened.model, id, [planned]) },
      }),
    ),
  )
}
const wireless = computed(() => site.opened.plan.site.wireless)
const schools = [
  { title: 'as planned here', value: 'planned' },
  { title: 'planned anew each night, by what is heard', value: 'nightly' },
  { title: 'each access point for itself', value: 'each' },
]
/** Nothing is planned by what is heard while something hangs elsewhere. */
function choose(channels: typeof wireless.value.channels): void {
  const loose = channels === 'nightly' ? unsettledWords(unsettledOf(site.opened.model)) : null
  refused.value =
    loose !== null
      ? `${loose}. Say in the table above what stays`
      : site.edit('changeSite', { wireless: { channels } })
}
/** How many were on the air at which hour: the fewest are to be sent away. */
const hours = shallowRef<readonly ClientHour[]>([])
const quietest = computed(() => quietestHour(hours.value))
const mostClients = computed(() => Math.max(1, ...hours.value.map((h) => h.clients)))
watch(
  () => [site.opened.id, wireless.value.channels] as const,
  async ([id, channels]) => {
    hours.value = []
    if (channels !== 'nightly') return
    // Without a network it is not shown.
    const found = await ask(readClientHours, { params: { site: id } }).catch(() => [])
    if (id === site.opened.id) hours.value = found
  },
  { immediate: true },
)
function setMinute(text: string): string | undefined {
  const replanMinute = minuteOf(text)
  return replanMinute >= 0
    ? site.edit('changeSite', { wireless: { replanMinute } })
    : 'a time of the day is needed, for example 03:00'
}
</script>

<template>
  <section aria-label="Channels">
    <h2>Channels of {{ band }} GHz</h2>
    <div class="row no-print">
      <v-select
        label="Channels are chosen"
        :model-value="wireless.channels"
        :items="schools"
        style="max-width: 320px"
        @update:model-value="choose"
      />
      <FieldsEditField
        v-if="wireless.channels === 'nightly'"
        label="Planned anew at"
        :value="clockOf(wireless.replanMinute)"
        :save="setMinute"
        mono
      />
      <v-checkbox
        label="also those shared with radar"
        :model-value="wireless.usesRadar"
        @update:model-value="
          (v) => site.edit('changeSite', { wireless: { usesRadar: v === true } })
        "
      />
      <v-select v-model="width" label="Width" :items="widths" style="max-width: 150px" />
      <v-btn v-if="!isWorking" @click="run(site.opened.plan, (w, p) => w.channels(p, band, width))"
        >Plan the channels</v-btn
      >
      <v-btn v-else @click="stop">Stop</v-btn>
    </div>
    <p v-if="wireless.channels === 'each'" class="faint">
      Each looks for itself after every start: no plan keeps two neighbours apart, and nobody knows
      in advance what is on the air. Good where a site is small and neighbours change.
    </p>
    <template v-else-if="wireless.channels === 'nightly'">
      <p class="faint">
        Whoever is on the air at that hour is sent away for some seconds: choose the one with the
        fewest. The controller sends nothing else along: while edits wait to be sent, channels wait
        too.
      </p>
      <figure v-if="hours.length" class="hours">
        <svg viewBox="0 0 240 40" role="img" aria-label="Clients by the hour">
          <rect
            v-for="h in hours"
            :key="h.hour"
            :x="h.hour * 10 + 1"
            :y="40 - (38 * h.clients) / mostClients"
            width="8"
            :height="(38 * h.clients) / mostClients + 0.5"
            :class="{ quietest: h.hour === quietest }"
          >
            <title>{{ h.hour }}:00: {{ h.clients.toFixed(1) }} clients</title>
          </rect>
        </svg>
        <figcaption class="faint">
          Clients by the hour, 0 to 24.
          {{
            quietest === null
              ? 'Not enough of a day was seen yet to say which is the quietest.'
              : `The quietest is from ${clockOf(quietest * 60)} on.`
          }}
          <v-btn
            v-if="quietest !== null && wireless.replanMinute !== quietest * 60"
            class="no-print"
            size="small"
            variant="text"
            @click="
              refused = site.edit('changeSite', { wireless: { replanMinute: quietest * 60 } })
            "
            >Plan anew then</v-btn
          >
        </figcaption>
      </figure>
    </template>
    <Refusal :says="refused ?? failed" />
    <template v-if="result">
      <p role="status">
        Pairs that hear each other on shared frequencies: {{ result.sharedNow }} now,
        {{ result.shared }} as planned.
        {{
          result.isBest
            ? 'No plan disturbs less.'
            : `It disturbs ${result.cost.toFixed(2)}; no plan goes under ${result.atLeast.toFixed(2)}.`
        }}
        Neighbours reckoned with: {{ result.neighbours }}. Check with your regulator: channels are
        kept from memory.
      </p>
      <p v-if="result.without.length" class="faint">
        No channel of this width is open for {{ result.without.map(name).join(', ') }}.
      </p>
      <table v-if="result.radios.length" class="plain" aria-label="Planned channels">
        <thead>
          <tr>
            <th>Access point</th>
            <th>Now</th>
            <th>Planned</th>
            <th>Width</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in result.radios" :key="`${r.deviceId} ${r.radio}`">
            <td>{{ name(r.deviceId) }}</td>
            <td class="mono">{{ r.from ?? 'none' }}</td>
            <td class="mono">{{ r.to }}</td>
            <td class="mono">{{ r.widthMhz }} MHz</td>
          </tr>
        </tbody>
      </table>
      <v-btn v-if="changed.length" class="no-print" color="primary" variant="flat" @click="take"
        >Take it over: {{ changed.length }} change</v-btn
      >
    </template>
  </section>
</template>

<style scoped>
.hours {
  max-width: 420px;
  margin: 8px 0;
}
.hours svg {
  width: 100%;
  border-bottom: 1px solid var(--hair);
}
.hours rect {
  fill: var(--action);
  fill-opacity: 0.45;
}
.hours .quietest {
  fill: var(--proven);
  fill-opacity: 1;
}
</style>
