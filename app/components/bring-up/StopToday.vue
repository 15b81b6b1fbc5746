<script setup lang="ts">
/** What has to be done before everybody leaves for today. */
import { safeStop, travelIn, type Step } from '@mast/core/bringup'
import { formatDuration } from '@mast/core/words'
import type { StepShown } from '~/stores/field'

const props = defineProps<{
  steps: readonly Step[]
  done: ReadonlyMap<string, StepShown>
  nowMs: number
}>()
const emit = defineEmits<{ choose: [id: string] }>()
const site = useSite()
const isAsked = ref(false)
const title = computed(() => new Map(props.steps.map((s) => [s.id, s.title])))
const stop = computed(() =>
  isAsked.value
    ? safeStop(
        props.steps,
        new Map([...props.done].map(([id, d]) => [id, new Date(d.readyAt).getTime()])),
        props.nowMs,
        site.plan ? travelIn(site.plan) : undefined,
      )
    : null,
)
</script>

<template>
  <section class="stop" aria-label="Stop here for today">
    <v-btn size="small" :aria-expanded="isAsked" @click="isAsked = !isAsked"
      >Stop here for today</v-btn
    >
    <template v-if="stop">
      <p v-if="stop.isSafe" class="mark clear wrap">
        <ShellStateShape kind="clear" />Everything can stay as it is. The sheet goes on from here.
      </p>
      <ul v-else>
        <li v-for="r in stop.running" :key="r.stepId">
          Wait {{ formatDuration(r.leftSeconds) }}: {{ title.get(r.stepId) }}.
        </li>
        <li v-for="o in stop.open" :key="o.stepId">
          <b>{{ o.says }}</b>
          <template v-if="o.orElse"> {{ o.orElse }} Or finish it</template
          ><template v-else> Finish it</template>, in {{ formatDuration(o.finishSeconds) }}:
          <v-btn
            v-if="o.finishIds[0]"
            size="x-small"
            variant="text"
            @click="emit('choose', o.finishIds[0])"
            >{{ title.get(o.finishIds[0]) }}</v-btn><template v-if="o.finishIds.length > 1">
            and {{ o.finishIds.length - 1 }} more</template
          >
        </li>
      </ul>
    </template>
  </section>
</template>

<style scoped>
.stop {
  margin: 8px 0 12px;
}
ul {
  margin: 6px 0;
  padding-left: 18px;
}
</style>
