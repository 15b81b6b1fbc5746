<script setup lang="ts">
import { keyOf, sheets } from '@mast/core/sheets'
import { stopPath, useStopMarks } from '~/composables/stops'

const props = defineProps<{ siteId: string; current: string }>()
const marks = useStopMarks()
const here = useTemplateRef('here')
/** In a frame of its own: it measures the page. */
const centre = (): void =>
  void requestAnimationFrame(() =>
    here.value?.[0]?.scrollIntoView({ inline: 'center', block: 'nearest' }),
  )
onMounted(centre)
watch(() => props.current, centre, { flush: 'post' })
</script>

<template>
  <nav class="line" aria-label="Stops">
    <ol>
      <li
        v-for="(stop, at) in sheets"
        :key="stop.id"
        :ref="stop.id === props.current ? 'here' : undefined"
        :class="{ here: stop.id === props.current }"
      >
        <NuxtLink
          :to="stopPath(props.siteId, stop.id)"
          :title="`${stop.question} (key ${keyOf(stop.id)})`"
          :aria-current="stop.id === props.current ? 'page' : undefined"
        >
          <span class="stop label"
            ><span class="number">{{ at + 1 }}</span
            >{{ stop.name }}</span
          >
          <span class="mark" :class="marks[stop.id].kind">
            <ShellStateShape
              :kind="marks[stop.id].kind"
              :count="
                'count' in marks[stop.id] ? (marks[stop.id] as { count: number }).count : undefined
              "
            />
            <span class="word">{{ marks[stop.id].word }}</span>
          </span>
        </NuxtLink>
      </li>
    </ol>
  </nav>
</template>

<style scoped>
.line {
  flex: none;
  background: var(--paper);
  border-bottom: 1px solid var(--hair);
  overflow-x: auto;
  scrollbar-width: none;
}
ol {
  display: flex;
  list-style: none;
  margin: 0;
  padding: 0 12px;
  min-width: max-content;
}
li {
  position: relative;
  flex: 1;
}
li::before {
  content: '';
  position: absolute;
  top: 15px;
  left: 0;
  right: 0;
  border-top: 1px solid var(--hair);
}
a {
  position: relative;
  display: flex;
  flex-direction: column;
  gap: 2px;
  padding: 5px 10px 6px;
  color: var(--ink);
  text-decoration: none;
  min-width: 90px;
}
.stop {
  white-space: nowrap;
  background: var(--paper);
  align-self: flex-start;
  padding: 0 6px 0 0;
  font-size: 14px;
  font-weight: 600;
}
.number {
  color: var(--faint);
  font-weight: 400;
  margin-right: 6px;
}
.here a {
  background: var(--selection);
  box-shadow: inset 0 -3px 0 var(--ink);
}
.here .stop {
  white-space: nowrap;
  background: var(--selection);
}
.mark {
  min-height: 18px;
}
@media (max-width: 600px) {
  a {
    padding: 8px 12px;
    min-width: 96px;
  }
}
</style>
