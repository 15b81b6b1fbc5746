<script setup lang="ts">
/** The stand-ins: their clock, and faults to put in. */
import { formatDuration } from '@mast/core/words'
import { faultKey, faultsOffered, type Fault } from '@mast/standins/control'

const site = useSite()
const field = useField()
const refused = ref<string | undefined>()
const asking = ref(false)
const faultsShown = ref(false)
watch(
  () => field.standins?.faults.length ?? 0,
  (n) => {
    if (n > 0) faultsShown.value = true
  },
  { immediate: true },
)
const speeds = [1, 10, 60, 200, 1000]
useIntervalFn(() => void field.readStandins(), 1200)

/** Faults that this plan makes possible, one of each kind where it is most telling. */
const possible = computed(() => (site.plan ? faultsOffered(site.plan) : []))
const isIn = (f: Fault): boolean =>
  field.standins?.faults.some((x) => faultKey(x) === faultKey(f)) ?? false
const toggle = async (f: Fault): Promise<void> => {
  refused.value = await field.setFault(f, !isIn(f))
}
</script>

<template>
  <section aria-label="Stand-ins" class="no-print">
    <h2>Stand-ins</h2>
    <p class="faint">Simulated devices, line and hosts that take the place of the real ones.</p>
    <div class="row speed" role="group" aria-label="Clock of the stand-ins">
      <button
        v-for="s in speeds"
        :key="s"
        type="button"
        class="mono"
        :class="{ on: field.standins?.speed === s }"
        :aria-pressed="field.standins?.speed === s"
        @click="field.setSpeed(s)"
      >
        x{{ s }}
      </button>
    </div>
    <p v-if="field.standins" class="mono faint">
      {{ formatDuration(field.standins.seconds) }} gone by,
      {{ field.standins.frames.toLocaleString('en-GB') }} frames
    </p>
    <p v-if="field.standins?.stopped" class="mark blockers wrap" role="alert">
      <ShellStateShape kind="blockers" />They stand still, since something in them went wrong:
      {{ field.standins.stopped }}. Change the plan, or put them back into their boxes.
    </p>
    <p v-if="!field.standins" class="faint">Still in their boxes; the first step takes them out.</p>
    <details :open="faultsShown" @toggle="faultsShown = ($event.target as HTMLDetailsElement).open">
      <summary>
        Faults
        <span v-if="field.standins?.faults.length" class="mark cautions"
          ><ShellStateShape kind="cautions" />{{ field.standins.faults.length }} in</span
        >
      </summary>
      <v-checkbox
        v-for="p in possible"
        :key="faultKey(p.fault)"
        :label="p.label"
        :model-value="isIn(p.fault)"
        @update:model-value="toggle(p.fault)"
      />
      <p v-if="possible.length === 0" class="faint">The plan has nothing to break yet.</p>
    </details>
    <v-btn v-if="field.standins && !asking" size="small" variant="text" @click="asking = true"
      >Put them back into their boxes</v-btn
    >
    <div v-if="asking" class="in-place">
      <p>
        All stand-ins of this site become factory-new; their claims and the ticked steps of the run
        sheet go. The plan and the proofs stay.
      </p>
      <div class="row">
        <v-btn
          size="small"
          color="error"
          @click="
            () => {
              field.putBack()
              asking = false
            }
          "
          >Put them back</v-btn
        ><v-btn size="small" variant="text" @click="asking = false">Keep them</v-btn>
      </div>
    </div>
    <p v-if="refused" class="mark blockers" style="white-space: normal" role="alert">
      {{ refused }}
    </p>
  </section>
</template>

<style scoped>
.speed {
  gap: 0;
}
.speed button {
  border: 1px solid var(--hair);
  margin-right: -1px;
  background: none;
  padding: 3px 9px;
  color: inherit;
  cursor: pointer;
  min-height: 28px;
}
.speed button.on {
  background: var(--ink);
  color: var(--paper);
}
p {
  margin: 4px 0;
  font-size: 13px;
}
summary {
  cursor: pointer;
  margin: 6px 0;
  font-weight: 600;
}
details :deep(.v-label) {
  font-size: 13px;
}
</style>
