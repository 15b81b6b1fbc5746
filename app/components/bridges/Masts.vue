<script setup lang="ts">
/** Which of the places of the site, and of other masts, see each other over a tile of heights. */
import { readCandidates, type Ranked } from '@mast/core/bridges'
import { wrap } from 'comlink'
import type { GroundWorker } from '~/workers/ground.worker'

const site = useSite()
const isOpen = ref(false)
const typed = ref('')
const mhz = ref(5600)
const mostKm = ref(30)
const ranked = shallowRef<readonly Ranked[] | null>(null)
const problems = ref<readonly string[]>([])
const refused = ref<string | undefined>()
const isWorking = ref(false)
let thread: Worker | undefined
const places = computed(() =>
  Object.values(site.opened.plan.locations).flatMap((l) =>
    l.latitude === null || l.longitude === null
      ? []
      : [
          {
            name: l.name,
            latitude: l.latitude,
            longitude: l.longitude,
            heightM: Math.max(0, l.heightM ?? 0),
          },
        ],
  ),
)
function stop(): void {
  thread?.terminate()
  thread = undefined
  isWorking.value = false
}
onBeforeUnmount(stop)
async function rank(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  const read = readCandidates(typed.value)
  problems.value = read.problems
  refused.value = undefined
  ranked.value = null
  if (file) {
    stop()
    isWorking.value = true
    const mine = (thread = new Worker(new URL('../../workers/ground.worker.ts', import.meta.url), {
      type: 'module',
    }))
    const found = await wrap<GroundWorker>(mine)
      .rank(file.name, file, [...places.value, ...read.candidates], mhz.value, mostKm.value * 1000)
      .catch((error: unknown) => ({ problem: errorText(error) }))
    if (thread === mine) {
      if ('problem' in found) refused.value = `${file.name}: ${found.problem}.`
      else ranked.value = found
      stop()
    }
  }
  input.value = ''
}
</script>

<template>
  <section aria-label="Masts">
    <details @toggle="(e) => (isOpen = (e.target as HTMLDetailsElement).open)">
      <summary>Which masts see each other</summary>
      <template v-if="isOpen">
        <p class="faint">
          All places of this site with coordinates, and those that are typed here, pair by pair over
          a tile of heights. Buildings and trees are not in a tile.
        </p>
        <div class="fields no-print">
          <v-textarea
            v-model="typed"
            label="Other masts: name, latitude, longitude, height"
            rows="3"
            hint="Mill, 57.9100, -6.6800, 12"
            persistent-hint
          />
          <v-text-field v-model.number="mhz" label="Frequency" type="number" suffix="MHz" />
          <v-text-field v-model.number="mostKm" label="No farther than" type="number" suffix="km" />
        </div>
        <div class="row no-print">
          <label v-if="!isWorking" class="pick"
            >Rank over a tile<input
              type="file"
              class="visually-hidden"
              accept=".hgt,.tif,.tiff"
              aria-label="Rank over a tile"
              @change="rank"
          /></label>
          <v-btn v-else @click="stop">Stop</v-btn>
        </div>
        <ul v-if="problems.length">
          <li v-for="p in problems" :key="p">{{ p }}</li>
        </ul>
        <Refusal :says="refused" />
        <table v-if="ranked" class="plain" aria-label="Pairs of masts">
          <thead>
            <tr>
              <th>From</th>
              <th>To</th>
              <th>Apart</th>
              <th>Zone free</th>
              <th>Tightest at</th>
              <th>Edges take</th>
              <th>All of it</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in ranked.slice(0, 40)" :key="`${r.a.name} ${r.b.name}`">
              <td>{{ r.a.name }}</td>
              <td>{{ r.b.name }}</td>
              <td class="mono">{{ (r.metres / 1000).toFixed(2) }} km</td>
              <td class="mono">{{ Math.round(r.share * 100) }} %</td>
              <td class="mono">{{ Math.round(r.atM) }} m</td>
              <td class="mono">{{ r.edgesDb.toFixed(1) }} dB</td>
              <td class="mono">
                {{ r.lossDb.toFixed(0) }} dB{{
                  r.unknown > 0 ? `, ${r.unknown} heights missing` : ''
                }}
              </td>
            </tr>
          </tbody>
        </table>
      </template>
    </details>
  </section>
</template>
