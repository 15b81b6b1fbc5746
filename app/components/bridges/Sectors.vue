<script setup lang="ts">
/** Units with several far ends: how they share the air. */
import { sectorsOf } from '@mast/core/bridges'

const site = useSite()
const sectors = computed(() => sectorsOf(site.opened.model))
</script>

<template>
  <section v-for="s in sectors" :key="s.device.id" :aria-label="`Far ends of ${s.device.name}`">
    <h2>{{ s.device.name }} and its far ends</h2>
    <table class="plain" :aria-label="`Airtime at ${s.device.name}`">
      <thead>
        <tr>
          <th>Far end</th>
          <th>On the air</th>
          <th>Wants</th>
          <th>Takes of the time</th>
          <th>Gets</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="r in s.bridges"
          :key="r.bridge.id"
          :class="{ selected: s.sector.dragging === r.bridge.id }"
        >
          <td>{{ r.bridge.name }}</td>
          <td class="mono">
            {{ Math.min(r.budget.toB.step?.mbps ?? 0, r.budget.toA.step?.mbps ?? 0) }} Mbit/s
          </td>
          <td class="mono">{{ (r.carried.toB + r.carried.toA).toFixed(1) }} Mbit/s</td>
          <td class="mono">
            {{ Math.round(100 * (s.sector.ends.find((e) => e.id === r.bridge.id)?.airtime ?? 0)) }}
            %
          </td>
          <td class="mono">
            {{ s.sector.ends.find((e) => e.id === r.bridge.id)?.getsMbps.toFixed(1) }} Mbit/s
          </td>
        </tr>
      </tbody>
    </table>
    <p>
      {{ Math.round(s.sector.airtime * 100) }} % of the air is asked for.
      <template v-if="s.sector.dragging"
        >{{ s.bridges.find((r) => r.bridge.id === s.sector.dragging)?.bridge.name }} takes more than
        its part, since it is slow: it drags the others down.</template
      >
    </p>
  </section>
</template>
