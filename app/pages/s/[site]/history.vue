<script setup lang="ts">
import type { SitePlan } from '@mast/core/plan'
import { readHistory, readRevision, type RevisionLine } from '@mast/api'
import { stopPath } from '~/composables/stops'
import { answered } from '~/offline/browserStore'

const site = useSite()
const { siteId, failed } = useOpenSite()
const lines = ref<RevisionLine[]>([])
const more = ref(false)
const older = ref<number | null>(null)
const newer = ref<number | null>(null)
const plans = shallowRef<Record<number, SitePlan>>({})
const complaint = ref<string | null>(null)
const PAGE = 100

async function read(before?: number): Promise<void> {
  const page = { params: { site: siteId.value }, query: { before } }
  try {
    const got = await answered(readHistory, page, () => ask(readHistory, page))
    lines.value = before ? [...lines.value, ...got] : got
    more.value = got.length === PAGE
  } catch (error) {
    complaint.value = errorText(error)
  }
}
watch(
  () => [site.id, site.revision],
  () => {
    if (site.id) void read()
  },
  { immediate: true },
)
watch(lines, (l) => {
  newer.value ??= l[0]?.number ?? null
  older.value ??= l[1]?.number ?? null
})

async function planAt(number: number | null): Promise<SitePlan | null> {
  if (number === null) return null
  const known = plans.value[number]
  if (known) return known
  try {
    const { plan } = await ask(readRevision, { params: { site: siteId.value, number } })
    plans.value = { ...plans.value, [number]: plan }
    return plan
  } catch (error) {
    complaint.value = errorText(error)
    return null
  }
}
const pair = shallowRef<{ from: SitePlan; to: SitePlan; older: number; newer: number } | null>(null)
watchLatest(
  () => [older.value, newer.value] as const,
  async ([a, b], isLast) => {
    if (a === null || b === null || a === b) {
      pair.value = null
      return
    }
    const [from, to] = await Promise.all([planAt(Math.min(a, b)), planAt(Math.max(a, b))])
    if (isLast())
      pair.value = from && to ? { from, to, older: Math.min(a, b), newer: Math.max(a, b) } : null
  },
)
async function restore(number: number): Promise<void> {
  const plan = await planAt(number)
  if (plan) complaint.value = site.restore(plan, number) ?? null
}
const mayEdit = computed(() => site.role === 'owner' || site.role === 'engineer')
const when = (at: string): string =>
  new Date(at).toLocaleString('en-GB', {
    dateStyle: 'medium',
    timeStyle: 'short',
    ...(site.plan ? { timeZone: site.plan.site.timeZone } : {}),
  })
</script>

<template>
  <ShellSideSheet
    title="History"
    question="Who changed what, and when? What was it before?"
    :back="{ to: stopPath(siteId, 'survey'), label: site.plan?.site.name ?? 'Back to the site' }"
  >
    <Refusal :says="failed" />
    <ShellConflicts />
    <Refusal :says="complaint" />
    <div class="two">
      <section aria-label="Revisions">
        <table class="plain">
          <thead>
            <tr>
              <th>Rev</th>
              <th>What</th>
              <th>Who</th>
              <th>When</th>
              <th><abbr title="older side of the comparison">from</abbr></th>
              <th><abbr title="newer side of the comparison">to</abbr></th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="r in lines"
              :key="r.number"
              :class="{ selected: r.number === older || r.number === newer }"
            >
              <td class="mono">{{ r.number }}</td>
              <td class="what">{{ r.summary }}</td>
              <td>{{ r.author ?? '' }}</td>
              <td class="mono faint when">{{ when(r.at) }}</td>
              <td>
                <input
                  v-model="older"
                  type="radio"
                  name="older"
                  :value="r.number"
                  :aria-label="`Compare from revision ${r.number}`"
                />
              </td>
              <td>
                <input
                  v-model="newer"
                  type="radio"
                  name="newer"
                  :value="r.number"
                  :aria-label="`Compare to revision ${r.number}`"
                />
              </td>
            </tr>
          </tbody>
        </table>
        <v-btn v-if="more" size="small" variant="text" @click="read(lines.at(-1)!.number)"
          >Older ones</v-btn
        >
      </section>
      <section class="compare" aria-label="Comparison" aria-live="polite">
        <template v-if="pair">
          <h2>From revision {{ pair.older }} to {{ pair.newer }}</h2>
          <HistoryDifferences :from="pair.from" :to="pair.to" />
          <v-btn
            v-if="mayEdit && pair.older !== site.revision"
            color="primary"
            @click="restore(pair.older)"
            >Restore revision {{ pair.older }}</v-btn
          >
          <p v-if="mayEdit" class="faint">
            Restoring makes a new revision; nothing of the history is lost, and Undo takes it back.
          </p>
        </template>
        <p v-else class="faint">Choose two revisions to compare them.</p>
      </section>
    </div>
  </ShellSideSheet>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 7fr) minmax(0, 5fr);
  gap: 28px;
  align-items: start;
}
.compare {
  position: sticky;
  top: 12px;
}
.what {
  overflow-wrap: anywhere;
  padding-block: 5px !important;
}
.when {
  white-space: nowrap;
  font-size: 12px;
}
abbr {
  text-decoration: none;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: 1fr;
  }
  .compare {
    position: static;
  }
  .when {
    white-space: normal;
  }
}
</style>
