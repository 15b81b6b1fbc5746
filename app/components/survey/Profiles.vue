<script setup lang="ts">
/**
 * What each kind of device can do: the library, and an editor for those that a plan has of its own.
 */
import { catalogue, deviceKinds, type Profile, idFor, idsOf } from '@mast/core/plan'
import type { Column } from '../rows/column'

const site = useSite()
const used = computed(() => {
  const n = new Map<string, number>()
  for (const d of site.opened.model.devices) n.set(d.profileId, (n.get(d.profileId) ?? 0) + 1)
  return n
})
const list = computed(() =>
  Object.values({ ...catalogue, ...site.opened.plan.profiles }).sort(
    (a, b) =>
      deviceKinds.indexOf(a.kind) - deviceKinds.indexOf(b.kind) || (a.name < b.name ? -1 : 1),
  ),
)
const chosenId = ref<string | null>(null)
const refused = ref<string | undefined>()
const own = (p: Profile): boolean => Object.hasOwn(site.opened.plan.profiles, p.id)
function copy(from: Profile): void {
  const id = idFor(
    `${from.name} own`,
    new Set([...idsOf(site.opened.plan), ...Object.keys(catalogue)]),
  )
  refused.value = site.edit('addProfile', {
    ...structuredClone(toRaw(from)),
    id,
    name: `${from.name}, own`,
  })
  if (!refused.value) chosenId.value = id
}
function remove(id: string): void {
  refused.value = site.edit('removeProfile', { id })
  if (!refused.value) chosenId.value = null
}
const roles = { wan: 'line', lan: 'LAN', host: 'host' } as const
const portsInWords = (p: Profile): string =>
  (['wan', 'lan', 'host'] as const)
    .flatMap((r) => {
      const n = p.ports.filter((q) => q.role === r).length
      return n ? [`${n} ${roles[r]}`] : []
    })
    .join(', ')
const capacity = (p: Profile): string =>
  p.limits.controllerCapacity
    ? Object.entries(p.limits.controllerCapacity)
        .map(([k, n]) => `${n} ${k}`)
        .join(', ')
    : ''
const columns: readonly Column<Profile>[] = [
  { key: 'name', title: 'Profile', value: (p) => p.name },
  { key: 'kind', title: 'Kind', value: (p) => p.kind },
  { key: 'sockets', title: 'Sockets', value: (p) => p.ports.length, text: portsInWords },
  { key: 'draws', title: 'Draws', value: (p) => p.drawW, text: (p) => `${p.drawW} W`, mono: true },
  {
    key: 'gives',
    title: 'Gives',
    value: (p) => p.poeBudgetW ?? 0,
    text: (p) => (p.poeBudgetW === null ? '' : `${p.poeBudgetW} W`),
    mono: true,
  },
  {
    key: 'lead',
    title: 'Lead',
    value: (p) => p.leadM ?? 0,
    text: (p) => (p.leadM === null ? 'none' : `${p.leadM} m`),
    mono: true,
  },
  { key: 'here', title: 'Here', value: (p) => used.value.get(p.id) ?? '', mono: true },
]
</script>

<template>
  <section aria-label="Profiles">
    <div class="scroll-x">
      <LazyRowsDataTable
        :rows="list"
        :columns="columns"
        what="profiles"
        :groups="['kind']"
        :open="chosenId"
        @open="(id: string) => (chosenId = id)"
      >
        <template #form="{ row: p }: { row: Profile }">
          <div class="in-place">
            <div class="row head">
              <span v-if="!own(p)">This one is from the library.</span>
              <v-btn size="small" @click="copy(p)">Make one of my own from it</v-btn>
              <v-btn
                v-if="own(p) && !used.get(p.id)"
                size="small"
                variant="text"
                color="error"
                @click="remove(p.id)"
                >Remove it</v-btn
              >
            </div>
            <Refusal :says="refused" />
            <SurveyProfileEditor v-if="own(p)" :profile="p" :used="used.get(p.id) ?? 0" />
            <dl v-else class="facts">
              <dt>Sockets</dt>
              <dd class="mono">
                {{
                  p.ports
                    .map((q) => `${q.name} ${roles[q.role]}${q.poeOutType ? ', feeds power' : ''}`)
                    .join('; ')
                }}
              </dd>
              <template v-if="capacity(p)"
                ><dt>As controller</dt>
                <dd>{{ capacity(p) }}</dd></template
              ><template v-if="p.factory.address"
                ><dt>From the factory</dt>
                <dd class="mono">{{ p.factory.address }}</dd></template
              ><template v-if="p.licences.length"
                ><dt>Licences</dt>
                <dd>
                  {{ p.licences.map((l) => `${l.name}: ${l.unlocks}`).join('; ') }}
                </dd></template
              >
            </dl>
          </div>
        </template>
      </LazyRowsDataTable>
    </div>
  </section>
</template>

<style scoped>
.facts {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 2px 16px;
  margin: 8px 0 0;
}
.facts dt {
  color: var(--faint);
}
.facts dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.head {
  margin-bottom: 14px;
}
</style>
