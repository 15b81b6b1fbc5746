<script setup lang="ts">
/**
 * Networks that are there whatever is planned, and what other sites use: from the index of all
 * sites.
 */
import { readElsewhere, type Overlap, type Twin } from '@mast/api'
import { explainSubnet, formatPrefix } from '@mast/core/addressing'
import { newId, type KnownNetwork } from '@mast/core/plan'
import type { Column } from '../rows/column'

const site = useSite()
const known = computed(() => Object.values(site.opened.plan.knownNetworks))
const kinds: { title: string; value: KnownNetwork['kind'] }[] = [
  { title: 'stays on the site', value: 'stays' },
  { title: "a tunnel's own network", value: 'tunnel' },
  { title: 'the far end of a tunnel', value: 'joined' },
]
const columns: readonly Column<KnownNetwork>[] = [
  { key: 'name', title: 'Network', value: (n) => n.name },
  { key: 'prefix', title: 'Prefix', value: (n) => n.prefix, mono: true },
  { key: 'is', title: 'Is', value: (n) => kinds.find((k) => k.value === n.kind)!.title },
  { key: 'acts', title: '', value: () => '', isUnsorted: true },
]
const draft = reactive({ name: '', kind: 'joined' as KnownNetwork['kind'], prefix: '' })
const refused = ref<string | undefined>()
function add(): void {
  const read = explainSubnet(draft.prefix)
  if (!read.ok) {
    refused.value = read.reason
    return
  }
  refused.value = site.edit('addKnownNetwork', {
    id: newId(site.opened.plan, `net ${draft.name}`),
    name: draft.name,
    kind: draft.kind,
    prefix: formatPrefix(read.value),
    note: '',
  })
  if (!refused.value) {
    draft.name = ''
    draft.prefix = ''
  }
}
const overlaps = ref<readonly Overlap[] | null>(null)
const twins = ref<readonly Twin[]>([])
const unreachable = ref(false)
watchLatest(
  () => [site.id, site.saveState === 'saved' ? site.revision : null] as const,
  async ([id, revision], isLast) => {
    if (!id || revision === null) return
    try {
      const reply = await ask(
        readElsewhere,
        { params: { site: id } },
        { timeoutMs: READ_TIMEOUT_MS },
      )
      if (!isLast()) return
      overlaps.value = reply.overlaps
      twins.value = reply.twins
      unreachable.value = false
    } catch {
      if (isLast()) unreachable.value = true
    }
  },
)
const join = (o: Overlap): void =>
  void site.edit('addKnownNetwork', {
    id: newId(site.opened.plan, `net ${o.siteName} ${o.what}`),
    name: `${o.siteName}: ${o.what}`.slice(0, 80),
    kind: 'joined',
    prefix: o.prefix,
    note: '',
  })
const isJoined = (o: Overlap): boolean =>
  known.value.some((n) => n.kind === 'joined' && n.prefix === o.prefix)
</script>

<template>
  <section aria-label="Networks elsewhere">
    <h2>There already, and elsewhere</h2>
    <LazyRowsDataTable
      v-if="known.length"
      :rows="known"
      :columns="columns"
      what="networks"
      :groups="['is']"
      :open="site.selected"
      :hot="site.pointed"
    >
      <template #cell-acts="{ row: n }"
        ><v-btn
          class="no-print"
          size="small"
          variant="text"
          @click="site.edit('removeKnownNetwork', { id: n.id })"
          >Remove</v-btn
        ></template
      >
    </LazyRowsDataTable>
    <p v-else class="faint">
      Nothing is recorded that the plan has to go around: subnets that stay, networks of tunnels,
      what lies at their far ends.
    </p>
    <form class="row no-print" @submit.prevent="add">
      <v-text-field
        v-model="draft.name"
        label="Network there already"
        style="max-width: 220px"
      /><v-text-field
        v-model="draft.prefix"
        label="Prefix"
        class="mono"
        style="max-width: 190px"
      /><v-select v-model="draft.kind" label="It" :items="kinds" style="max-width: 210px" />
      <v-btn type="submit" :disabled="!draft.name.trim() || !draft.prefix.trim()">Record it</v-btn>
    </form>
    <Refusal :says="refused" />
    <h3>All sites together</h3>
    <p v-if="unreachable" class="faint">
      The other sites are known when the server can be reached.
    </p>
    <p v-else-if="overlaps && overlaps.length === 0 && twins.length === 0" class="mark clear">
      <ShellStateShape kind="clear" />No other site of yours uses these numbers.
    </p>
    <table v-if="overlaps?.length" class="plain">
      <thead>
        <tr>
          <th>Here</th>
          <th>Prefix</th>
          <th>Meets</th>
          <th>Prefix</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="(o, i) in overlaps" :key="i">
          <td>{{ o.own }}</td>
          <td class="mono">{{ o.ownPrefix }}</td>
          <td>
            <NuxtLink :to="`/s/${o.siteId}/addresses`">{{ o.siteName }}</NuxtLink>: {{ o.what }}
          </td>
          <td class="mono">{{ o.prefix }}</td>
          <td>
            <v-btn v-if="!isJoined(o)" class="no-print" size="small" variant="text" @click="join(o)"
              >A tunnel joins them</v-btn
            >
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="overlaps?.length" class="faint">
      Sites with the same numbers work by themselves; no tunnel between them can.
    </p>
    <ul v-if="twins.length">
      <li v-for="(t, i) in twins" :key="i">
        {{ t.deviceName }} has the {{ t.field }} <span class="mono">{{ t.value }}</span> of
        {{ t.otherName }} at <NuxtLink :to="`/s/${t.siteId}/survey`">{{ t.siteName }}</NuxtLink>.
      </li>
    </ul>
  </section>
</template>
