<script setup lang="ts">
/** A gap of the address space, and the segment that is put there. */
import { formatPrefix, type Prefix } from '@mast/core/addressing'
import { inPlan } from '@mast/core/plan'

const props = defineProps<{ gap: Prefix }>()
const emit = defineEmits<{ zoom: []; close: [] }>()
const site = useSite()
const refused = ref<string | undefined>()

const unplaced = computed(() =>
  site.opened.model.segments.map((s) => {
    const now = props.gap.family === 4 ? s.subnet : s.subnet6
    return { title: `${s.vlanId} ${s.name}${now ? ` (now ${now})` : ''}`, value: s.id }
  }),
)
function put(segmentId: string): void {
  const need = inPlan(site.opened.plan.segments, segmentId)
  const wanted =
    props.gap.family === 6
      ? 64
      : Math.max(
          props.gap.length,
          Math.min(
            29,
            32 - Math.ceil(Math.log2(need.expectedHosts * (1 + need.growthPercent / 100) + 11)),
          ),
        )
  const subnet = formatPrefix({ ...props.gap, length: props.gap.family === 6 ? 64 : wanted })
  refused.value =
    props.gap.family === 6
      ? site.edit('changeSegment', { id: segmentId, changes: { subnet6: subnet } })
      : site.edit('setSubnet', { segmentId, subnet })
  if (!refused.value) {
    emit('close')
    site.selected = segmentId
  }
}
</script>

<template>
  <div class="in-place row no-print" aria-label="The gap">
    <span
      >A <b class="mono">/{{ gap.length }}</b> fits at
      <b class="mono">{{ formatPrefix(gap) }}</b>.</span
    >
    <v-select
      label="Put a segment here"
      :items="unplaced"
      :model-value="null"
      style="max-width: 340px"
      @update:model-value="(id) => id && put(id)"
    />
    <v-btn size="small" variant="text" @click="emit('zoom')">Zoom in</v-btn
    ><v-btn size="small" variant="text" @click="emit('close')">Leave it</v-btn>
    <Refusal :says="refused" />
  </div>
</template>
