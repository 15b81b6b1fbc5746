<script setup lang="ts">
/** How a device can find the controller from where it hangs, each way by what the plan says of it. */
import { pageInService, waysOf, type WayKind } from '@mast/core/adoption'
import { listWords } from '@mast/core/words'
import { pathOf, readConfiguration } from '@mast/api'

const props = defineProps<{ deviceId: string }>()
const site = useSite()
const all = computed(() => waysOf(site.opened.model, props.deviceId))
const page = computed(() =>
  pageInService(site.opened.model, site.opened.model.device(props.deviceId)),
)
const file = computed(() =>
  pathOf(readConfiguration, { params: { site: site.opened.id, device: props.deviceId } }),
)
const words: Readonly<Record<WayKind, string>> = {
  'same-segment': 'In the same segment',
  typed: 'The address typed in',
  'dhcp-option': 'A DHCP option',
  'dns-name': 'A name',
  'meeting-point': 'By its serial, over the internet',
  bootstrap: 'From its box, signed for it (RFC 8572)',
}
</script>

<template>
  <details class="ways">
    <summary>
      Ways to the controller<span v-if="all.from" class="faint">
        from {{ all.from.name }}, where it wakes up</span
      >
    </summary>
    <ul class="plainlist">
      <li v-for="w in all.ways" :key="w.kind" :data-way="w.kind">
        <span class="mark" :class="w.works ? 'clear' : 'nothing'"
          ><ShellStateShape :kind="w.works ? 'clear' : 'nothing'" />{{ words[w.kind] }}</span
        ><template v-if="w.kind === 'typed' && all.url"
          >: <code class="mono">{{ all.url }}</code></template
        ><span class="beneath faint"
          >{{ w.works ? 'leads there' : 'does not' }}: {{ w.because }}</span
        >
      </li>
      <li v-if="all.then">
        <span class="mark wrap" :class="all.then.works ? 'clear' : 'blockers'"
          ><ShellStateShape :kind="all.then.works ? 'clear' : 'blockers'" />Then, from
          {{ all.then.segment.name }}</span
        ><span class="beneath faint">{{ all.then.because }}</span>
      </li>
    </ul>
    <p v-if="all.url && page.from.length" class="faint">
      Set up by its own page before there was a controller? From {{ listWords(page.from) }} open
      <template v-if="page.address"
        ><code class="mono">https://{{ page.address }}</code></template
      ><template v-else>its page at the address that its lease says</template> and load
      <a :href="file" download>its configuration</a>, which names the controller; then it calls, and
      is claimed like any other.
    </p>
  </details>
</template>

<style scoped>
.ways {
  margin: 6px 0;
}
.beneath {
  display: block;
  font-size: 12.5px;
  white-space: normal;
}
ul {
  list-style: none;
  padding: 0;
  margin: 4px 0 8px;
}
li {
  padding: 3px 0;
}
</style>
