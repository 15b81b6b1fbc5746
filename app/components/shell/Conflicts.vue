<script setup lang="ts">
/** Changes of ours that meet somebody else's: both values, who was first, and the choice. */
import {
  nameOfId,
  valueOf,
  valueWords,
  wordsForField,
  wordsForTop,
  type ConflictThing,
} from '@mast/core/plan'

const site = useSite()
const refused = ref<Record<string, string>>({})
function keep(id: string): void {
  const reason = site.keepMine(id)
  refused.value = { ...refused.value, [id]: reason ?? '' }
}
const words = (value: unknown): string => valueWords(site.opened.plan, value)
const theirs = (t: ConflictThing): string => words(valueOf(site.opened.plan, t))
const title = (t: ConflictThing): string =>
  `${t.id === '' ? `the ${wordsForTop(t.top)}` : nameOfId(site.opened.plan, t.id)}` +
  `${t.part === '*' ? '' : `: ${wordsForField(t.part)}`}`
</script>

<template>
  <section v-if="site.held.length" class="conflicts" aria-label="Conflicts" role="alert">
    <h2>
      <span class="mark blockers"
        ><ShellStateShape kind="blockers" :count="site.held.length" />to decide</span
      >
      {{
        site.held.length === 1
          ? 'A change of yours waits for you'
          : `${site.held.length} changes of yours wait for you`
      }}
    </h2>
    <article
      v-for="h in site.held"
      :key="h.change.id"
      class="conflict"
      :aria-label="h.conflict.summary"
    >
      <p>
        <b>{{ h.conflict.summary }}</b><template v-if="h.conflict.by.length">
          meets
          <template v-for="(r, i) in h.conflict.by" :key="r.number"
            ><template v-if="i">, </template>revision {{ r.number }} of
            {{ r.author ?? 'somebody' }}: {{ r.summary }}</template
          ></template
        >.
      </p>
      <p v-if="h.conflict.reason" class="faint">
        It cannot be done on the newest plan: {{ h.conflict.reason }}.
      </p>
      <div v-if="h.conflict.things.length" class="scroll-x">
        <table class="plain">
          <thead>
            <tr>
              <th>What</th>
              <th>Before</th>
              <th>Mine</th>
              <th>Theirs, as saved</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="t in h.conflict.things" :key="`${t.top}/${t.id}/${t.part}`">
              <td>
                <button type="button" class="what" @click="site.selected = t.id">
                  {{ title(t) }}
                </button>
              </td>
              <td class="mono faint">{{ words(t.before) }}</td>
              <td class="mono mine">{{ words(t.mine) }}</td>
              <td class="mono theirs">{{ theirs(t) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <div class="row">
        <v-btn
          size="small"
          color="primary"
          variant="flat"
          :disabled="h.conflict.reason !== null && !h.conflict.things.length"
          @click="keep(h.change.id)"
          >Keep mine</v-btn
        >
        <v-btn size="small" @click="site.takeTheirs(h.change.id)">{{
          h.conflict.things.length ? 'Take theirs' : 'Let it go'
        }}</v-btn>
        <span v-if="refused[h.change.id]" class="mark blockers wrap" role="alert">{{
          refused[h.change.id]
        }}</span>
      </div>
    </article>
  </section>
</template>

<style scoped>
.conflicts {
  border: 2px solid var(--blocker);
  padding: 8px 14px 12px;
  margin-bottom: 14px;
}
h2 {
  margin: 2px 0 6px;
}
.conflict {
  border-top: 1px solid var(--hair);
  padding: 6px 0;
}
p {
  margin: 2px 0 4px;
}
.what {
  background: none;
  border: 0;
  padding: 4px 0;
  font: inherit;
  color: var(--action);
  text-decoration: underline;
  cursor: pointer;
  text-align: left;
}
.mine {
  border-left: 3px solid var(--action);
  padding-left: 8px !important;
}
.theirs {
  border-left: 3px double var(--caution);
  padding-left: 8px !important;
}
td {
  overflow-wrap: anywhere;
}
</style>
