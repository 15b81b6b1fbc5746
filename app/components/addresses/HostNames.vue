<script setup lang="ts">
import {
  reverseName,
  reverseZones,
  collapse,
  formatPrefix,
  parsePrefix,
} from '@mast/core/addressing'
import { hostNames } from '@mast/core/naming'
import type { Column } from '../rows/column'

const site = useSite()
const names = computed(() =>
  hostNames(site.opened.model).map((n) => ({ ...n, id: `${n.label} ${n.address}` })),
)
const domain = computed(() => site.opened.plan.site.domain)
const subnets = computed(() =>
  site.opened.model.segments.flatMap((s) =>
    [s.subnet, s.subnet6].flatMap((t) => {
      const p = t ? parsePrefix(t) : undefined
      return p ? [p] : []
    }),
  ),
)
const zones = computed(() => [
  ...new Set(subnets.value.filter((p) => p.family === 4).flatMap(reverseZones)),
])
const has6 = computed(() => site.opened.model.segments.some((s) => s.subnet6))
const summary = computed(() => collapse(subnets.value).map(formatPrefix))
const columns: readonly Column<(typeof names.value)[number]>[] = [
  {
    key: 'name',
    title: 'Name',
    value: (n) => `${n.label}${domain.value ? `.${domain.value}` : ''}`,
    mono: true,
  },
  { key: 'address', title: 'Address', value: (n) => n.address, mono: true },
  { key: 'reverse', title: 'Reverse', value: (n) => reverseName(n.address), mono: true },
  { key: 'is', title: 'Is', value: (n) => n.of },
]
</script>

<template>
  <div>
    <p v-if="!domain" class="faint">
      No domain inside yet; set one above, for example
      <span class="mono">{{ 'site.internal' }}</span>, and every planned address gets a name.
    </p>
    <p>
      <b>Summary routes</b> <span class="mono">{{ summary.join(', ') || 'nothing placed' }}</span>{{
        ' '
      }}
      <span class="faint">what another site needs to be told to reach all of this one</span>
    </p>
    <p v-if="zones.length">
      <b>Reverse zones</b>{{ ' ' }}
      <span class="mono"
        >{{ zones.slice(0, 12).join(', ')
        }}{{ zones.length > 12 ? ` and ${zones.length - 12} more` : '' }}</span
      >
    </p>
    <p v-if="has6" class="faint">
      IPv6 subnets are planned only: nobody holds an address in them that could have a name.
    </p>
    <LazyRowsDataTable
      v-if="names.length"
      :rows="names"
      :columns="columns"
      what="names"
      :groups="['is']"
    />
  </div>
</template>
