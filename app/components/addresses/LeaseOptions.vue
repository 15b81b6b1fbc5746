<script setup lang="ts">
/** What a lease of the segment tells, in words and octet for octet. */
import { hexOf, optionOctets } from '@mast/core/addressing'
import { leaseOptionsOf } from '@mast/core/formats'

const site = useSite()
const segment = computed(
  () =>
    site.opened.model.segments.find((s) => s.id === site.selected) ?? site.opened.model.segments[0],
)
const options = computed(() =>
  segment.value ? leaseOptionsOf(site.opened.model, segment.value) : [],
)
const spaced = (hex: string): string => hex.match(/../g)?.join(' ') ?? ''
</script>

<template>
  <div v-if="segment" class="scroll-x">
    <table class="plain" :aria-label="`Options of the leases of ${segment.name}`">
      <thead>
        <tr>
          <th>Code</th>
          <th>Option</th>
          <th>Says</th>
          <th>On the wire</th>
          <th>Source</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="o in options" :key="o.code">
          <td class="mono">{{ o.code }}</td>
          <td>{{ o.name }}</td>
          <td class="mono says">{{ o.says }}</td>
          <td class="mono octets">{{ spaced(hexOf(optionOctets(o.code, o.content))) }}</td>
          <td class="faint">{{ o.source }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.octets {
  font-size: 12px;
  overflow-wrap: anywhere;
}
.says {
  overflow-wrap: anywhere;
}
td {
  padding-block: 3px !important;
}
</style>
