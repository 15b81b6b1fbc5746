<script setup lang="ts">
import { compilePolicy, placeName, type Rule, type Zone } from '@mast/core/policy'

const site = useSite()
const rules = computed(() => compilePolicy(site.plan!))
const opened = ref(false)
const { shown, rest, more } = useShownRows(() => (opened.value ? rules.value.rules : []))
const zones = (list: readonly Zone[] | 'any'): string => (list === 'any' ? 'any' : list.length === site.model!.segments.length && list.length > 2 ? 'every segment' : list.map((z) => placeName(site.plan!, z)).join(', '))
const what = (r: Rule): string => (r.state !== 'new' ? r.state : r.protocol === 'any' ? 'everything' : `${r.protocol}${r.ports.length ? ` ${r.ports.join(', ')}` : ''}`)
</script>

<template>
  <details v-if="site.model!.segments.length" @toggle="(e) => { opened = (e.target as HTMLDetailsElement).open }">
    <summary class="label">The {{ rules.rules.length }} rules that the gateway gets, in order</summary>
    <div class="scroll-x">
      <table class="plain">
        <thead><tr><th>#</th><th>Chain</th><th>From</th><th>To</th><th>What</th><th>Verdict</th><th>Why</th></tr></thead>
        <tbody><tr v-for="(r, i) in shown" :key="r.id"><td class="mono">{{ i + 1 }}</td><td>{{ r.chain }}</td><td>{{ zones(r.from) }}</td><td>{{ r.chain === 'input' ? 'the gateway' : zones(r.to) }}</td><td class="mono">{{ what(r) }}</td><td><b>{{ r.verdict }}</b></td><td class="faint">{{ r.text }}</td></tr></tbody>
      </table>
      <RowsMore :rest="rest" what="rules" @more="more" />
    </div>
  </details>
</template>

<style scoped>summary { cursor: pointer; margin: 16px 0 6px; font-weight: 600; }</style>
