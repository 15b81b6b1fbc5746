<script setup lang="ts">
/** A remark: what is wrong, why it matters, how much, and what mends it. */
import type { Finding, Fix } from '@mast/core/findings'
import type { FieldFinding } from '@mast/core/field'

const props = defineProps<{ finding: Finding | FieldFinding }>()
const site = useSite()
const shape = computed(() =>
  props.finding.severity === 'blocker'
    ? 'blockers'
    : props.finding.severity === 'caution'
      ? 'cautions'
      : 'note',
)
const refused = ref<string | undefined>()
const point = (on: boolean): void => {
  site.pointed = on ? props.finding.subjects : []
}
const offers = useOffers(() => props.finding)
function mend(fix: Fix): void {
  refused.value = site.mend(fix.label, fix.edits)
  site.pointed = []
}
</script>

<template>
  <article
    class="finding"
    :class="finding.severity"
    @mouseenter="point(true)"
    @mouseleave="point(false)"
    @focusin="point(true)"
    @focusout="point(false)"
  >
    <button class="head" type="button" @click="site.selected = finding.subjects[0] ?? null">
      <span class="mark" :class="shape"
        ><ShellStateShape :kind="shape" />{{ finding.severity }}</span
      >
      <span class="label title">{{ finding.title }}</span>
    </button>
    <p>{{ finding.text }}</p>
    <p class="faint">{{ finding.why }}</p>
    <dl v-if="finding.numbers?.length">
      <template v-for="n in finding.numbers" :key="n.label"
        ><dt>{{ n.label }}</dt>
        <dd class="mono" :title="n.how" :tabindex="n.how ? 0 : undefined">
          {{ n.value }}<span v-if="n.how" class="how">{{ n.how }}</span>
        </dd></template
      >
    </dl>
    <div class="fixes">
      <template v-for="offer in offers" :key="offer.label">
        <v-btn size="small" color="primary" class="fix" @click="mend(offer)">{{
          offer.label
        }}</v-btn>
        <p v-if="offer.brings.length" class="brings">
          Brings a blocker: {{ offer.brings[0]
          }}{{ offer.brings.length > 1 ? ` And ${offer.brings.length - 1} more.` : '' }}
        </p>
      </template>
      <p v-if="finding.fixes?.length && offers?.length === 0" class="faint">
        No single step mends it here.
      </p>
    </div>
    <Refusal :says="refused" />
  </article>
</template>

<style scoped>
.finding {
  border-left: 2px solid var(--hair);
  padding: 2px 0 8px 10px;
  margin-bottom: 14px;
}
.finding.blocker {
  border-color: var(--blocker);
}
.finding.caution {
  border-color: var(--caution);
}
.head {
  display: block;
  text-align: left;
  background: none;
  border: 0;
  padding: 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
  width: 100%;
}
.title {
  display: block;
  font-weight: 600;
  font-size: 14px;
  line-height: 1.25;
  margin: 2px 0;
}
p {
  margin: 3px 0;
  font-size: 13.5px;
  overflow-wrap: anywhere;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 0 10px;
  margin: 4px 0;
  font-size: 13px;
}
dt {
  color: var(--faint);
}
dd {
  margin: 0;
}
.how {
  display: none;
  color: var(--faint);
  font-family: var(--text);
  font-size: 12.5px;
}
dd:hover .how,
dd:focus .how {
  display: block;
}
.brings {
  color: var(--blocker);
  font-size: 12.5px;
  margin: 0 0 4px;
}
.fixes {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 4px;
  margin-top: 4px;
}
.fix {
  height: auto !important;
  min-height: 28px;
  padding-block: 4px;
  white-space: normal;
  text-align: left;
}
.fix :deep(.v-btn__content) {
  white-space: normal;
  text-align: left;
}
</style>
