<script setup lang="ts">
import {
  comparePlans,
  nameOfId,
  valueWords,
  wordsForField,
  wordsForTop,
  type Difference,
  type SitePlan,
} from '@mast/core/plan'

const props = defineProps<{ from: SitePlan; to: SitePlan }>()
const all = computed(() => comparePlans(props.from, props.to))
/** Ports come and go with their device; that is said once, of the device. */
const told = computed(() => all.value.filter((d) => !(d.top === 'ports' && d.kind !== 'changed')))
const title = (d: Difference): string =>
  d.id === '' ? d.name : nameOfId(d.kind === 'removed' ? props.from : props.to, d.id)
const word = { added: 'added', removed: 'removed', changed: 'changed' } as const
</script>

<template>
  <p v-if="told.length === 0" class="faint">The two are the same.</p>
  <ul v-else class="differences">
    <li v-for="d in told" :key="`${d.top}/${d.id}`">
      <span class="kind mono" :class="d.kind">{{
        d.kind === 'added' ? '+' : d.kind === 'removed' ? '−' : '~'
      }}</span>
      <div>
        <span class="faint">{{ wordsForTop(d.top) }}</span> <b>{{ title(d) }}</b>
        {{ d.kind === 'changed' ? '' : word[d.kind] }}
        <dl v-if="d.fields.length">
          <template v-for="f in d.fields" :key="f.field"
            ><dt>{{ wordsForField(f.field) }}</dt>
            <dd class="mono">
              <s>{{ valueWords(from, f.before) }}</s> to {{ valueWords(to, f.after) }}
            </dd></template
          >
        </dl>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.differences {
  list-style: none;
  padding: 0;
  margin: 0 0 12px;
}
li {
  display: grid;
  grid-template-columns: 18px 1fr;
  border-bottom: 1px solid var(--hair);
  padding: 5px 0;
}
.kind {
  font-weight: 600;
}
.added {
  color: var(--proven);
}
.removed {
  color: var(--blocker);
}
.changed {
  color: var(--caution);
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 0 12px;
  margin: 2px 0 0;
  font-size: 13px;
}
dt {
  color: var(--faint);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
s {
  color: var(--faint);
}
</style>
