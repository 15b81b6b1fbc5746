<script setup lang="ts">
import { trace, type Endpoint } from '@mast/core/forwarding'
import { weekMinuteAt } from '@mast/core/plan'

const site = useSite()
const ends = useStable(() => [
  ...site
    .model!.devices.filter((d) =>
      ['host', 'controller'].includes(site.opened.model.profileOf(d.id).kind),
    )
    .map((d) => ({ title: d.name, value: `device:${d.id}` })),
  ...site.opened.model.segments.map((s) => ({
    title: `a host in ${s.name}`,
    value: `segment:${s.id}`,
  })),
  { title: 'the internet', value: 'internet' },
])
const from = ref<string | null>(null)
const to = ref<string | null>(null)
const targets = computed(() => [
  ...ends.value,
  { title: "the gateway's own pages", value: 'gateway' },
  ...Object.values(site.opened.plan.forwards).map((f) => ({
    title: `the line, ${f.protocol} ${f.outside.first} (${f.name})`,
    value: `forward:${f.id}`,
  })),
])
const serviceId = ref('svc-web')
/** Asked for now, or for all of the week, where hours have a say. */
const now = ref(false)
const hasHours = computed(() => Object.values(site.opened.plan.intents).some((i) => i.hours))
watch(
  ends,
  (list) => {
    if (!from.value || !list.some((e) => e.value === from.value))
      from.value = list[0]?.value ?? null
    if (!to.value || !targets.value.some((e) => e.value === to.value)) to.value = 'internet'
  },
  { immediate: true },
)
function endpoint(text: string): Endpoint {
  const [kind, id] = text.split(':') as [string, string]
  return kind === 'device' || kind === 'segment' || kind === 'forward'
    ? { kind, id }
    : kind === 'gateway'
      ? { kind }
      : { kind: 'internet' }
}
const result = computed(() => {
  const service =
    site.opened.plan.services[serviceId.value] ?? Object.values(site.opened.plan.services)[0]
  return from.value && to.value && from.value !== to.value && service
    ? trace(
        site.opened.model,
        endpoint(from.value),
        endpoint(to.value),
        service,
        'ipv4',
        hasHours.value && now.value
          ? weekMinuteAt(site.opened.plan.site.timeZone, new Date())
          : null,
      )
    : null
})
const shape = computed(() =>
  result.value?.verdict === 'delivered'
    ? 'clear'
    : result.value?.verdict === 'blocked'
      ? 'blockers'
      : 'cautions',
)
const verdictWords = { delivered: 'gets through', blocked: 'is blocked', broken: 'gets lost' }
</script>

<template>
  <section v-if="site.opened.model.segments.length" aria-label="Trace">
    <h2>Trace one connection</h2>
    <div class="row no-print">
      <v-autocomplete
        v-model="from"
        label="From"
        :items="ends"
        variant="outlined"
        density="compact"
        hide-details
        style="max-width: 220px"
      />
      <v-autocomplete
        v-model="to"
        label="To"
        :items="targets"
        variant="outlined"
        density="compact"
        hide-details
        style="max-width: 220px"
      />
      <v-select
        v-model="serviceId"
        label="Service"
        :items="
          Object.values(site.opened.plan.services).map((s) => ({ title: s.name, value: s.id }))
        "
        style="max-width: 180px"
      />
      <v-select
        v-if="hasHours"
        v-model="now"
        label="When"
        :items="[
          { title: 'at all times', value: false },
          { title: 'now', value: true },
        ]"
        style="max-width: 140px"
      />
    </div>
    <div v-if="result" class="result" role="status">
      <p>
        <span class="mark verdict" :class="shape"
          ><ShellStateShape :kind="shape" />{{ verdictWords[result.verdict] }}</span
        >
        decided by the {{ result.decidedBy.kind }}: <b>{{ result.decidedBy.text }}</b>
      </p>
      <ol>
        <li v-for="(hop, i) in result.hops" :key="i">
          <span class="layer mono">{{ hop.layer }}</span>{{ hop.text }}
        </li>
      </ol>
    </div>
  </section>
</template>

<style scoped>
.verdict {
  font-size: 15px;
  font-weight: 600;
}
.result {
  border-left: 2px solid var(--ink);
  padding-left: 14px;
  margin-top: 10px;
}
ol {
  list-style: none;
  padding: 0;
  margin: 6px 0;
}
li {
  padding: 3px 0;
  border-bottom: 1px solid var(--hair);
}
.layer {
  display: inline-block;
  width: 60px;
  color: var(--faint);
}
</style>
