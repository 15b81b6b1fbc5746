<script setup lang="ts">
/** What the site lives with, and when the first line is used again. */
import { linesInUse } from '@mast/core/uplinks'
import { exactDuration, explainDuration } from '@mast/core/words'
import type { SitePlan } from '@mast/core/plan'

type Back = NonNullable<SitePlan['site']['failover']['back']>
const site = useSite()
const failover = computed(() => site.opened.plan.site.failover)
const lines = computed(() => linesInUse(site.opened.model))
const refused = ref<string | undefined>()
const change = (changes: Partial<SitePlan['site']['failover']>): string | undefined =>
  site.edit('changeSite', { failover: changes })
const ways = [
  { title: 'nobody said', value: null },
  { title: 'at once when it is good', value: 'at-once' },
  { title: 'after a quiet time', value: 'after-quiet' },
  { title: 'by hand', value: 'by-hand' },
] as const
function setWay(kind: Back['kind'] | null): void {
  const back: Back | null =
    kind === null
      ? null
      : kind === 'at-once'
        ? { kind }
        : kind === 'after-quiet'
          ? { kind, seconds: 300 }
          : { kind, owner: '' }
  refused.value = change({ back })
}
function saveSeconds(
  text: string,
  save: (seconds: number | null) => string | undefined,
): string | undefined {
  if (text === '') return save(null)
  const read = explainDuration(text)
  return read.ok ? save(read.value) : read.reason
}
const words = (seconds: number | null): string => (seconds === null ? '' : exactDuration(seconds))
</script>

<template>
  <section v-if="lines.length > 1" aria-label="Going over and back">
    <h2>Going over and back</h2>
    <div class="fields">
      <FieldsEditField
        label="The site lives with"
        :value="words(failover.toleratedSeconds)"
        hint="an outage of 90 s, 5 min"
        :save="(t) => saveSeconds(t, (toleratedSeconds) => change({ toleratedSeconds }))"
        mono
      />
      <FieldsEditField
        label="False switches a year"
        type="number"
        :value="failover.falseSwitchesAYear"
        hint="that are accepted"
        :save="(t) => change({ falseSwitchesAYear: t === '' ? null : Number(t) })"
        mono
      />
      <FieldsEditField
        label="The gateway goes over in"
        type="number"
        suffix="s"
        :value="failover.switchSeconds"
        :save="(t) => change({ switchSeconds: Number(t) })"
        mono
      />
      <v-select
        :label="`Back to ${lines[0]!.name}`"
        :model-value="failover.back?.kind ?? null"
        :items="ways"
        @update:model-value="setWay"
      />
      <FieldsEditField
        v-if="failover.back?.kind === 'after-quiet'"
        label="Quiet for"
        :value="words(failover.back.seconds)"
        :save="
          (t) =>
            saveSeconds(t, (seconds) =>
              seconds === null
                ? 'a time is needed'
                : change({ back: { kind: 'after-quiet', seconds } }),
            )
        "
        mono
      />
      <FieldsEditField
        v-if="failover.back?.kind === 'by-hand'"
        label="Who does it"
        :value="failover.back.owner"
        :save="(owner) => change({ back: { kind: 'by-hand', owner } })"
      />
    </div>
    <Refusal :says="refused" />
  </section>
</template>
