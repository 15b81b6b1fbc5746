<script setup lang="ts">
/** Devices claimed by a list: what can be, what cannot and why, and counts that have to add up. */
import { claimsAddUp, sortClaims } from '@mast/core/adoption'
import { readClaimList } from '@mast/core/formats'

const site = useSite()
const field = useField()
const { file, refused, pick } = useTextFile()
const busy = ref(false)
const outcome = shallowRef<Awaited<ReturnType<typeof field.claimAll>> | null>(null)
watch(file, () => {
  outcome.value = null
})
const read = computed(() => (file.value ? readClaimList(file.value.text) : null))
const sorted = computed(() =>
  read.value && site.plan
    ? sortClaims(
        site.plan,
        read.value.rows,
        new Set(field.devices.filter((d) => d.claimed).map((d) => d.deviceId)),
      )
    : null,
)
async function claim(): Promise<void> {
  busy.value = true
  outcome.value = await field.claimAll(
    sorted.value!.claims.map(({ device }) => ({ deviceId: device.id, serial: device.serial! })),
  )
  refused.value = outcome.value.failed ?? undefined
  busy.value = false
}
const sum = computed(() =>
  outcome.value
    ? claimsAddUp(outcome.value.before, outcome.value.claimed.length, outcome.value.after)
    : null,
)
const { shown, rest, more } = useShownRows(() => sorted.value?.refused ?? [])
const nameOf = (id: string): string => site.plan?.devices[id]?.name ?? id
</script>

<template>
  <details class="claims no-print">
    <summary>Claim by a list</summary>
    <div class="row">
      <v-file-input
        label="Read serials"
        accept=".csv,.txt,text/csv,text/plain"
        density="compact"
        hide-details
        prepend-icon=""
        style="max-width: 220px"
        @update:model-value="pick"
      />
      <span class="faint"
        >a table with a column <span class="mono">serial</span>, and
        <span class="mono">model</span> and <span class="mono">mac</span> if there are, or serials
        one in a line</span
      >
    </div>
    <Refusal :says="refused" />
    <template v-if="read && sorted">
      <p role="status">
        <b>{{ file?.name }}</b>: {{ countText(read.rows.length) }} rows,
        {{ countText(sorted.claims.length) }} can be claimed,
        {{ countText(sorted.already.length) }} are already,
        {{ countText(sorted.refused.length) }} not.
        <template v-if="sorted.unnamed.length"
          >Not on the list:
          {{
            sorted.unnamed
              .slice(0, 5)
              .map((d) => d.name)
              .join(', ')
          }}{{
            sorted.unnamed.length > 5 ? ` and ${sorted.unnamed.length - 5} more` : ''
          }}.</template
        >
      </p>
      <p v-for="p in read.problems.slice(0, 5)" :key="p.line" class="wrong">
        <span class="mono">line {{ p.line }}</span> {{ p.reason }}
      </p>
      <table v-if="sorted.refused.length" class="plain">
        <tbody>
          <tr v-for="r in shown" :key="r.line">
            <td class="mono">line {{ r.line }}</td>
            <td class="mono">{{ r.serial }}</td>
            <td>{{ r.why }}</td>
          </tr>
        </tbody>
      </table>
      <RowsMore :rest="rest" what="rows" @more="more" />
      <v-btn
        v-if="sorted.claims.length"
        color="primary"
        variant="flat"
        :loading="busy"
        @click="claim"
        >Claim {{ sorted.claims.length === 1 ? 'one' : countText(sorted.claims.length) }}</v-btn
      >
    </template>
    <template v-if="outcome && sum">
      <p class="mark wrap" :class="sum.isRight ? 'clear' : 'cautions'" role="status">
        <ShellStateShape :kind="sum.isRight ? 'clear' : 'cautions'" />{{ sum.says }}
      </p>
      <p v-for="r in outcome.refused" :key="r.deviceId" class="wrong">
        {{ nameOf(r.deviceId) }}: {{ r.why }}
      </p>
      <p v-if="outcome.notSent" class="faint">Nothing was sent yet: {{ outcome.notSent }}</p>
      <p class="faint">
        Those that have not called yet wait for their first call; that is no error.
      </p>
    </template>
  </details>
</template>

<style scoped>
.claims {
  margin: 10px 0;
}
</style>
