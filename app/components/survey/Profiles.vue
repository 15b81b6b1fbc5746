<script setup lang="ts">
/**
 * What each kind of device can do: the library, and an editor for those that a plan has of its own.
 */
import { catalogue, deviceKinds, type Profile, idFor, idsOf } from '@mast/core/plan'

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
</script>

<template>
  <section aria-label="Profiles">
    <div class="scroll-x">
      <table class="plain">
        <thead>
          <tr>
            <th>Profile</th>
            <th>Kind</th>
            <th>Sockets</th>
            <th>Draws</th>
            <th>Gives</th>
            <th>Lead</th>
            <th>Here</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="p in list" :key="p.id">
            <tr
              :class="{ selected: chosenId === p.id }"
              tabindex="0"
              @click="chosenId = p.id"
              @keydown.enter="chosenId = p.id"
            >
              <td>{{ p.name }}</td>
              <td>{{ p.kind }}</td>
              <td>{{ portsInWords(p) }}</td>
              <td class="mono">{{ p.drawW }} W</td>
              <td class="mono">{{ p.poeBudgetW === null ? '' : `${p.poeBudgetW} W` }}</td>
              <td class="mono">{{ p.leadM === null ? 'none' : `${p.leadM} m` }}</td>
              <td class="mono">{{ used.get(p.id) ?? '' }}</td>
            </tr>
            <tr v-if="chosenId === p.id">
              <td colspan="7" class="form">
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
                          .map(
                            (q) =>
                              `${q.name} ${roles[q.role]}${q.poeOutType ? ', feeds power' : ''}`,
                          )
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
              </td>
            </tr>
          </template>
        </tbody>
      </table>
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
.form {
  height: auto;
}
.head {
  margin-bottom: 14px;
}
.wrap {
  white-space: normal;
}
</style>
