<script setup lang="ts">
/** Which bridge; and links through the air that have no sheet yet. */
import { describeLink } from '@mast/core/bridges'
import { useBridge } from './useBridge'

const site = useSite()
const { all, bridge, choose, missing, change } = useBridge()
const undescribed = computed(() => {
  const described = new Set(all.value.map((b) => b.linkId))
  return Object.values(site.opened.plan.links).filter(
    (l) => l.medium === 'radio' && !described.has(l.id),
  )
})
const refused = ref<string | undefined>()
function begin(link: (typeof undescribed.value)[number]): void {
  const { edits } = describeLink(site.opened.model, link)
  refused.value = site.mend('Begin the sheet of a bridge', edits)
  const [first] = edits
  if (first && 'id' in first.args) choose(first.args.id as string)
}
</script>

<template>
  <section aria-label="Bridges">
    <p v-if="all.length === 0 && undescribed.length === 0" class="lead">
      No link of this site goes through the air. Put two bridge radios into Survey, and join their
      air sockets in Wiring; then it is here.
    </p>
    <div class="row">
      <div v-if="all.length" class="row" role="tablist" aria-label="Bridge">
        <button
          v-for="b in all"
          :key="b.id"
          type="button"
          role="tab"
          class="tab"
          :class="{ on: b.id === bridge?.id }"
          :aria-selected="b.id === bridge?.id"
          @click="choose(b.id)"
        >
          {{ b.name }}
        </button>
      </div>
      <v-btn v-for="l in undescribed" :key="l.id" class="no-print" @click="begin(l)"
        >Begin: {{ site.opened.model.portName(l.a) }} to
        {{ site.opened.model.portName(l.b) }}</v-btn
      >
    </div>
    <Refusal :says="refused" />
    <div v-if="bridge && missing.length" class="in-place">
      <p class="lead">Before anything is reckoned of {{ bridge.name }}, say:</p>
      <ul>
        <li v-for="m in missing" :key="m">{{ m }}</li>
      </ul>
      <FieldsEditField label="Name" :value="bridge.name" :save="(name) => change({ name })" />
    </div>
  </section>
</template>
