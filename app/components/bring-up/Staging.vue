<script setup lang="ts">
/** The laptop on the bench: for each factory subnet what to type, which page to open, what clashes. */
import { backToAutomatic, stagingOf, type StagingRow } from '@mast/core/bringup'

const site = useSite()
const { people, nameOf } = useDayPeople(site.opened.id)
const rows = computed(() => (site.model ? stagingOf(site.model, people.value.names.length) : []))
/** The laptop of whoever holds this device. */
const ownAddress = (r: StagingRow): string =>
  [r.laptop!.address, ...r.others][people.value.own ?? 0] ?? r.laptop!.address
const others = (r: StagingRow): string =>
  [r.laptop!.address, ...r.others].map((a, i) => `${nameOf(i)} ${a}`).join(', ')
const own = (r: StagingRow, text: string): string =>
  r.laptop ? text.replaceAll(r.laptop.address, ownAddress(r)) : text
/** What stands for the laptop's own interface, until somebody says which it is. */
const face = ref('')
const typed = (commands: readonly string[]): string =>
  commands.map((c) => c.replaceAll('IF', face.value.replace(/[^\w.-]/g, '') || 'IF')).join('\n')
</script>

<template>
  <details v-if="rows.length" class="staging">
    <summary>The laptop on each factory subnet ({{ rows.length }})</summary>
    <v-text-field
      v-model="face"
      class="face no-print"
      label="Interface of a Linux laptop"
      hint="as ip link shows it"
      maxlength="15"
    />
    <section v-for="r in rows" :key="r.subnet" :aria-label="`Laptop on ${r.subnet}`">
      <h3>
        <span class="mono">{{ r.subnet }}</span>
        <template v-if="r.laptop"
          >: laptop <span class="mono">{{ ownAddress(r) }}</span>, mask
          <span class="mono">{{ r.laptop.mask }}</span></template
        >
      </h3>
      <p v-if="r.laptop && r.others.length" class="faint" data-laptops>
        Each laptop its own: {{ others(r) }}. Two on one address answer in turns, and pages break
        off.
      </p>
      <p v-for="c in r.clashes" :key="c" class="mark cautions wrap">
        <ShellStateShape kind="cautions" />{{ c }}
      </p>
      <pre v-if="r.commands.length" class="mono">{{ own(r, typed(r.commands)) }}</pre>
      <p v-for="w in r.inWords" :key="w" class="faint">{{ own(r, w) }}</p>
      <dl>
        <template v-for="g in r.pages" :key="`${g.address}${g.account}`">
          <dt class="mono">{{ g.page }}</dt>
          <dd>
            {{ g.devices.map((d) => d.name).join(', ') }}
            <p class="faint">
              Account: <span class="mono">{{ g.account ?? 'none' }}</span>. {{ g.firstThing }}
            </p>
          </dd>
        </template>
      </dl>
    </section>
    <section aria-label="Back to automatic">
      <h3>Afterwards: back to automatic</h3>
      <pre class="mono">{{ typed(backToAutomatic.commands) }}</pre>
      <p v-for="w in backToAutomatic.inWords" :key="w" class="faint">{{ w }}</p>
    </section>
  </details>
</template>

<style scoped>
.staging {
  margin: 14px 0;
}
.face {
  max-width: 260px;
  margin-top: 10px;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 14px;
}
dd {
  margin: 0;
}
@media (max-width: 600px) {
  dl {
    grid-template-columns: 1fr;
  }
}
pre {
  border: 1px solid var(--hair);
  padding: 8px 10px;
  font-size: 12.5px;
  overflow-x: auto;
}
</style>
