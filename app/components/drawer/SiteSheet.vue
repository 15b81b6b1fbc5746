<script setup lang="ts">
/** A site in the drawer: how far along the line it is, and where to go on. */
import type { SiteLine } from '@mast/api'
import { planSheetIds, sheets } from '@mast/core/sheets'
import { stopPath } from '~/composables/stops'

defineProps<{ s: SiteLine }>()
const emit = defineEmits<{ save: []; remove: [] }>()

const countOf = (n: number, what: string): string => `${n} ${what}${n === 1 ? '' : 's'}`
const blockers = (s: SiteLine): number => Object.values(s.marks).reduce((n, m) => n + m.blockers, 0)
function next(s: SiteLine): { words: string; path: string } {
  for (const sheet of sheets) {
    const words = sheet.next(s)
    if (words) return { words, path: stopPath(s.id, sheet.id) }
  }
  return { words: 'Look at it', path: stopPath(s.id, 'survey') }
}
</script>

<template>
  <article class="small-sheet">
    <NuxtLink :to="stopPath(s.id, 'survey')" class="name label">{{ s.name }}</NuxtLink>
    <div class="track" aria-hidden="true">
      <span
        v-for="k in planSheetIds"
        :key="k"
        class="tick"
        :class="{
          wrong: (s.marks[k]?.blockers ?? 0) > 0,
          clear: s.devices > 0 && (s.marks[k]?.blockers ?? 0) === 0,
        }"
      />
      <span
        class="tick"
        :class="{
          clear: s.stepsDone === s.steps && s.steps > 0,
          part: s.stepsDone > 0 && s.stepsDone < s.steps,
        }"
      /><span
        class="tick"
        :class="{
          clear: s.adoptable > 0 && s.inService === s.adoptable,
          part: s.inService > 0 && s.inService < s.adoptable,
        }"
      />
      <span
        class="tick"
        :class="{ clear: s.proof?.proven, wrong: (s.proof?.contradicts ?? 0) > 0 }"
      />
    </div>
    <p v-if="s.unread" class="mark blockers unread">
      <ShellStateShape kind="blockers" />Not looked at: {{ s.unread }}
    </p>
    <p v-else-if="s.isLooking" class="faint" role="status">Looking through its plan ...</p>
    <dl v-else>
      <dt>Remarks</dt>
      <dd>
        <span v-if="blockers(s)" class="mark blockers"
          ><ShellStateShape kind="blockers" :count="blockers(s)" />to mend</span
        ><span v-else-if="s.devices" class="mark clear"><ShellStateShape kind="clear" />clear</span
        ><span v-else class="faint">nothing yet</span>
      </dd>
      <dt>Run sheet</dt>
      <dd>{{ s.stepsDone }} of {{ s.steps }} steps</dd>
      <dt>In service</dt>
      <dd>{{ s.inService }} of {{ s.adoptable }} devices</dd>
      <dt>Proof</dt>
      <dd>
        <span v-if="s.proof?.proven && s.proof.revision === s.revision" class="mark proven"
          ><ShellStateShape kind="proven" />proven, {{ s.proof.asPlanned }} tests</span
        ><span v-else-if="s.proof"
          >{{ s.proof.asPlanned }} as planned, {{ s.proof.contradicts }} contradict</span
        ><span v-else class="faint">not run</span>
      </dd>
    </dl>
    <p v-if="!s.unread && !s.isLooking" class="next">
      <span class="faint">next</span>{{ ' ' }}
      <NuxtLink :to="next(s).path">{{ next(s).words }}</NuxtLink>
    </p>
    <div class="foot mono faint">
      <span>rev {{ s.revision }}</span
      ><span>{{ countOf(s.devices, 'device') }}</span
      ><span>{{ countOf(s.segments, 'segment') }}</span>
      <v-menu location="top end">
        <template #activator="{ props: opens }">
          <v-btn
            v-bind="opens"
            size="x-small"
            variant="text"
            class="more"
            :aria-label="`More for ${s.name}`"
            >More</v-btn
          >
        </template>
        <v-list density="compact">
          <v-list-item title="Save as a file" @click="emit('save')" />
          <v-divider />
          <v-list-item title="Remove ..." base-color="error" @click="emit('remove')" />
        </v-list>
      </v-menu>
    </div>
  </article>
</template>

<style scoped>
.small-sheet {
  background: var(--paper);
  border: 1px solid var(--hair);
  padding: 16px 18px 10px;
  box-shadow: 0 1px 3px rgba(0, 0, 0, 0.12);
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.name {
  font-size: 19px;
  font-weight: 600;
  color: var(--ink);
  text-decoration: none;
}
.name:hover {
  text-decoration: underline;
}
.track {
  display: flex;
  gap: 0;
  align-items: center;
}
.tick {
  flex: 1;
  height: 10px;
  border: 1px solid var(--hair);
  margin-right: -1px;
}
.tick.clear {
  background: var(--proven);
}
.tick.wrong {
  background: var(--blocker);
}
.tick.part {
  background: repeating-linear-gradient(135deg, var(--proven) 0 3px, transparent 3px 7px);
}
dl {
  display: grid;
  grid-template-columns: 90px 1fr;
  gap: 2px 8px;
  margin: 0;
}
dt {
  color: var(--faint);
}
dd {
  margin: 0;
}
.unread {
  white-space: normal;
}
.next {
  margin-bottom: 0;
  border-top: 1px solid var(--hair);
  border-bottom: 1px solid var(--hair);
  padding: 8px 0;
  font-weight: 600;
  margin-top: auto;
}
.next .faint {
  font-weight: 400;
  margin-right: 8px;
}
.foot {
  display: flex;
  gap: 10px;
  align-items: center;
  font-size: 12px;
  white-space: nowrap;
}
.more {
  margin-left: auto;
}
p {
  margin: 0;
}
</style>
