<script setup lang="ts">
/** Everything that is stated, in the order in which it is looked at. */
import { inPlan, hoursWords, intentsInOrder, placeName, type Intent } from '@mast/core/plan'

const site = useSite()
const intents = computed(() => intentsInOrder(site.opened.plan))
const opened = ref(false)
const { shown, rest, more } = useShownRows(() => (opened.value ? intents.value : []))
const name = (place: string): string => placeName(site.opened.plan, place)
const what = (i: Intent): string =>
  i.service === 'any' ? 'everything' : inPlan(site.opened.plan.services, i.service).name
const hot = (i: Intent): boolean => site.selected === i.id || site.pointed.includes(i.id)
</script>

<template>
  <details
    v-if="intents.length"
    @toggle="
      (e) => {
        opened = (e.target as HTMLDetailsElement).open
      }
    "
  >
    <summary class="label">
      What is stated: {{ intents.length }}, in the order in which it is looked at
    </summary>
    <div class="scroll-x">
      <table v-if="shown.length" class="plain" aria-label="Stated">
        <thead>
          <tr>
            <th>#</th>
            <th>From</th>
            <th>To</th>
            <th>What</th>
            <th>Verdict</th>
            <th>When</th>
            <th>Why</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="(i, n) in shown" :key="i.id" :class="{ selected: hot(i) }">
            <td class="mono">{{ n + 1 }}</td>
            <td>{{ name(i.from) }}</td>
            <td>{{ name(i.to) }}</td>
            <td>{{ what(i) }}</td>
            <td>
              <b>{{ i.action }}</b>
            </td>
            <td class="mono">{{ i.hours ? hoursWords(i.hours) : 'always' }}</td>
            <td class="faint">{{ i.reason }}</td>
            <td class="no-print acts">
              <v-btn
                v-if="n > 0"
                size="small"
                variant="text"
                :aria-label="`Look at ${name(i.from)} to ${name(i.to)} earlier`"
                @click="site.edit('putIntentFirst', { id: i.id, before: intents[n - 1]!.id })"
                >Earlier</v-btn
              ><v-btn
                size="small"
                variant="text"
                :aria-label="`Remove ${name(i.from)} to ${name(i.to)}`"
                @click="site.edit('removeIntent', { id: i.id })"
                >Remove</v-btn
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <RowsMore :rest="rest" what="statements" @more="more" />
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  margin: 16px 0 6px;
  font-weight: 600;
}
.acts {
  white-space: nowrap;
  text-align: right;
}
</style>
