<script setup lang="ts">
/** What a lamp, a display or the lamp of a socket says. */
import { decode, plannedSpeed, socketSpeed } from '@mast/core/bringup'
import { catalogue, rhythmWords } from '@mast/core/plan'
import { formatDuration } from '@mast/core/words'

const props = defineProps<{ deviceId: string | null }>()
const site = useSite()
const chosenId = ref<string | null>(null)
const devices = computed(() =>
  (site.model?.devices ?? []).filter((d) => {
    const { lights, setUp } = site.opened.model.profileOf(d.id)
    return lights.length > 0 || setUp.display.length > 0
  }),
)
const known = (id: string | null): boolean => devices.value.some((d) => d.id === id)
/** The one at hand, unless another was chosen. */
const deviceId = computed(() =>
  known(chosenId.value)
    ? chosenId.value
    : known(props.deviceId)
      ? props.deviceId
      : (devices.value[0]?.id ?? null),
)
const profile = computed(() =>
  deviceId.value && site.model ? site.model.profileOf(deviceId.value) : catalogue['gateway-4-2']!,
)
const colour = ref<'white' | 'teal' | 'amber' | 'off' | null>(null)
const rhythm = ref<string | null>(null)
const minutes = ref('')
const decoded = computed(() =>
  decode(profile.value, {
    colour: colour.value,
    rhythm: rhythm.value,
    forSeconds: minutes.value === '' ? null : Number(minutes.value) * 60,
  }),
)
const lit = computed(() => profile.value.lights.filter((l) => l.colour !== 'off'))
const colours = computed(() => [
  ...new Set(lit.value.map((l) => l.colour)),
  { title: 'dark', value: 'off' },
])
const rhythms = computed(() =>
  [...new Set(lit.value.map((l) => l.rhythm))].map((value) => ({
    title: rhythmWords(value),
    value,
  })),
)
/** Sockets with a cable of the plan, and what it is to come up at. */
const sockets = computed(() =>
  deviceId.value && site.model
    ? site.model.portsOf(deviceId.value).flatMap((p) => {
        const model = site.opened.model
        const peer = model.peerOf(p.id)
        if (!peer || model.linkAt(p.id)?.medium === 'radio') return []
        const mbps = plannedSpeed(
          model.profilePortOf(p.id).speedMbps,
          model.profilePortOf(peer.id).speedMbps,
        )
        return [{ title: `${p.name} to ${model.portName(peer.id)}`, value: p.id, mbps }]
      })
    : [],
)
const socketId = ref<string | null>(null)
const seenMbps = ref<number | null>(null)
const socket = computed(() => sockets.value.find((s) => s.value === socketId.value))
const came = computed(() =>
  socket.value && seenMbps.value !== null ? socketSpeed(socket.value.mbps, seenMbps.value) : null,
)
const speeds = [
  { title: 'dark', value: 0 },
  { title: '10 Mbit/s', value: 10 },
  { title: '100 Mbit/s', value: 100 },
  { title: '1 Gbit/s', value: 1000 },
  { title: '2.5 Gbit/s', value: 2500 },
  { title: '5 Gbit/s', value: 5000 },
  { title: '10 Gbit/s', value: 10_000 },
]
</script>

<template>
  <section aria-label="Light decoder">
    <h2>What does its lamp say?</h2>
    <v-select
      v-if="devices.length"
      :model-value="deviceId"
      label="Device"
      :items="devices.map((d) => ({ title: d.name, value: d.id }))"
      @update:model-value="chosenId = $event"
    />
    <p v-if="profile.setUp.lamp" class="faint">Its lamp: {{ profile.setUp.lamp }}.</p>
    <div v-if="profile.lights.length" class="row">
      <v-select v-model="colour" label="Colour" clearable :items="colours" class="choice" />
      <v-select v-model="rhythm" label="Rhythm" clearable :items="rhythms" class="choice" />
      <v-text-field
        v-model="minutes"
        label="For, min"
        type="number"
        min="0"
        max="600"
        class="choice"
      />
    </div>
    <ul>
      <li v-for="d in decoded" :key="d.light.state">
        <BringUpLamp :light="d.light" />
        <p>{{ d.light.meaning }}</p>
        <p v-if="d.next || d.usualSeconds" class="faint">
          <template v-if="d.usualSeconds">Up to {{ formatDuration(d.usualSeconds) }}. </template
          ><template v-if="d.next">Next: <BringUpLamp :light="d.next" /></template>
        </p>
        <p v-if="d.isWorrying" class="mark cautions wrap">
          <ShellStateShape kind="cautions" />Longer than usual or wrong. Look at: {{ d.lookAt }}
        </p>
      </li>
    </ul>
    <template v-if="profile.setUp.display.length">
      <h3>Its display</h3>
      <dl>
        <template v-for="s in profile.setUp.display" :key="s.shows"
          ><dt class="mono">{{ s.shows }}</dt>
          <dd>{{ s.meaning }}</dd></template
        >
      </dl>
    </template>
    <template v-if="sockets.length">
      <h3>The lamp of a socket</h3>
      <div class="row">
        <v-select v-model="socketId" label="Socket" :items="sockets" class="choice" />
        <v-select v-model="seenMbps" label="Came up at" :items="speeds" class="choice" />
      </div>
      <template v-if="came">
        <p class="mark wrap" :class="came.causes.length ? 'cautions' : 'clear'" role="status">
          <ShellStateShape :kind="came.causes.length ? 'cautions' : 'clear'" />{{ came.says }}
        </p>
        <ol v-if="came.causes.length">
          <li v-for="c in came.causes" :key="c">{{ c }}</li>
        </ol>
      </template>
    </template>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 8px 0;
}
li {
  border-bottom: 1px solid var(--hair);
  padding: 5px 0;
  font-size: 13px;
}
p {
  margin: 2px 0 0;
}
h3 {
  font-size: 14px;
  margin: 10px 0 4px;
}
dl {
  display: grid;
  grid-template-columns: 28px 1fr;
  gap: 2px 8px;
  font-size: 13px;
}
dd {
  margin: 0;
}
ol {
  padding-left: 20px;
  margin: 4px 0;
}
.choice {
  flex: 1;
  min-width: 125px;
}
</style>
