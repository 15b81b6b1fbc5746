<script setup lang="ts">
import { proofTestsOf } from '@mast/core/proof'

definePageMeta({ layout: 'sheet' })
const site = useSite()
const field = useField()
const busy = ref(false)
const refused = ref<string | undefined>()
const cell = ref<string | null>(null)
const tests = computed(() => (site.model ? proofTestsOf(site.model) : []))
const proof = computed(() => field.proof)
/**
 * Of what devices have, with nothing unsent and every test of the plan in it; without a release, of
 * the plan as it is.
 */
const isCurrent = computed(() => {
  if (!proof.value || !field.proofIsCurrent) return false
  if (proof.value.revision === site.revision) return true
  const seen = new Set(proof.value.body.results.map((r) => r.test.id))
  return tests.value.every((t) => seen.has(t.id))
})
async function run(only: string[] | null): Promise<void> {
  busy.value = true
  refused.value = await field.prove(only)
  busy.value = false
}
const failing = computed(
  () =>
    proof.value?.body.results.filter((r) => r.verdict !== 'as-planned').map((r) => r.test.id) ?? [],
)
</script>

<template>
  <ShellSheetFrame stop="prove">
    <template #tools>
      <v-btn v-if="failing.length && isCurrent" :loading="busy" @click="run(failing)"
        >Again what failed ({{ failing.length }})</v-btn
      >
      <v-btn
        color="primary"
        variant="flat"
        :loading="busy"
        :disabled="tests.length === 0"
        @click="run(null)"
        >Run the proof</v-btn
      >
    </template>
    <Refusal :says="refused" />
    <p v-if="field.unsent" class="mark cautions wrap">
      <ShellStateShape kind="cautions" />The plan has changes for {{ field.unsent }}
      {{ field.unsent === 1 ? 'device' : 'devices' }} that were not sent; what is proven is release
      {{ field.releases?.standing }}.
      <NuxtLink :to="`/s/${site.id}/adopt`">Look at them in Adopt</NuxtLink>
    </p>
    <p v-if="!field.loaded" class="faint">Fetching the last proof ...</p>
    <p v-else-if="tests.length === 0" class="lead">
      The plan implies no test yet. It needs hosts in segments; list them in Survey and give them a
      segment in Addresses.
    </p>
    <p v-else-if="!proof" data-drawing class="lead">
      {{ tests.length }} tests follow from this plan:
      {{ tests.filter((t) => t.expected === 'works').length }} must work,
      {{ tests.filter((t) => t.expected === 'blocked').length }} must not. Run them on the stand-ins
      once the run sheet is done.
    </p>
    <template v-else>
      <div class="verdict" role="status">
        <span v-if="proof.body.count.proven && isCurrent" class="mark proven big"
          ><ShellStateShape kind="proven" />Proven: all {{ proof.body.count.asPlanned }} results as
          planned</span
        >
        <span v-else-if="proof.body.count.contradicts" class="mark blockers big"
          ><ShellStateShape kind="blockers" />{{ proof.body.count.contradicts }}
          {{ proof.body.count.contradicts === 1 ? 'result contradicts' : 'results contradict' }} the
          plan</span
        >
        <span v-else class="mark cautions big"
          ><ShellStateShape kind="cautions" />{{
            isCurrent
              ? `${proof.body.count.untested} could not be tried`
              : `Proven for ${proof.release ? `release ${proof.release}` : `revision ${proof.revision}`}; ` +
                'the plan has changed since'
          }}</span
        >
        <span class="faint"
          >{{ proof.body.count.asPlanned }} as planned,
          {{ proof.body.count.contradicts }} contradict, {{ proof.body.count.untested }} untested.
          Of {{ proof.release ? `release ${proof.release}, ` : '' }}revision {{ proof.revision }},
          {{ new Date(proof.at).toLocaleString('en-GB') }}, on the stand-ins.</span
        >
      </div>
      <ProveCauses v-if="proof.body.causes.length" :causes="proof.body.causes" />
      <ProveGrid v-model:cell="cell" :results="proof.body.results" />
      <ProveResults :results="proof.body.results" :cell="cell" @again="run" @all="cell = null" />
    </template>
    <LazyUplinksTryIt />
    <template #margin><FieldStandinsPanel /></template>
  </ShellSheetFrame>
</template>

<style scoped>
.big {
  font-size: 18px;
  font-weight: 600;
  white-space: normal;
}
.verdict {
  display: flex;
  flex-direction: column;
  gap: 2px;
  margin-bottom: 14px;
}
</style>
