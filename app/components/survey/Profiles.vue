<script setup lang="ts">
/** What each kind of device can do: the library, and an editor for those that a plan uses. */
import { catalogue, deviceKinds, type Profile } from '@mast/core/plan'
import { idFor } from '@mast/core/formats'

const site = useSite()
const used = computed(() => { const n = new Map<string, number>(); for (const d of site.model!.devices) n.set(d.profileId, (n.get(d.profileId) ?? 0) + 1); return n })
const list = computed(() => Object.values({ ...catalogue, ...site.plan!.profiles }).sort((a, b) => deviceKinds.indexOf(a.kind) - deviceKinds.indexOf(b.kind) || (a.name < b.name ? -1 : 1)))
const chosenId = ref<string | null>(null)
const chosen = computed(() => (chosenId.value ? site.plan!.profiles[chosenId.value] ?? catalogue[chosenId.value] : undefined))
const own = computed(() => (chosen.value ? Object.hasOwn(site.plan!.profiles, chosen.value.id) : false))
const refused = ref<string | undefined>()
function change(changes: Partial<Profile>): string | undefined { return site.edit('changeProfile', { id: chosen.value!.id, changes }) }
function copy(from: Profile): void {
  const id = idFor(`${from.name} own`, new Set([...Object.keys(site.plan!.profiles), ...Object.keys(catalogue), ...Object.keys(site.plan!.devices), ...Object.keys(site.plan!.segments), ...Object.keys(site.plan!.locations)]))
  refused.value = site.edit('addProfile', { ...structuredClone(toRaw(from)), id, name: `${from.name}, own` })
  if (!refused.value) chosenId.value = id
}
const number = (t: string): number | null => (t === '' ? null : Number(t))
const roles = { wan: 'line', lan: 'LAN', host: 'host' } as const
const limits = (changes: Partial<Profile['limits']>): string | undefined => change({ limits: { ...chosen.value!.limits, ...changes } })
const port = (i: number, changes: Partial<Profile['ports'][number]>): string | undefined => change({ ports: chosen.value!.ports.map((p, n) => (n === i ? { ...p, ...changes } : p)) })
const portsInWords = (p: Profile): string => (['wan', 'lan', 'host'] as const).flatMap((r) => { const n = p.ports.filter((q) => q.role === r).length; return n ? [`${n} ${roles[r]}`] : [] }).join(', ')
const capacity = (p: Profile): string => (p.limits.controllerCapacity ? Object.entries(p.limits.controllerCapacity).map(([k, n]) => `${n} ${k}`).join(', ') : '')
</script>

<template>
  <div>
    <div class="scroll-x"><table class="plain">
      <thead><tr><th>Profile</th><th>Kind</th><th>Sockets</th><th>Draws</th><th>Gives</th><th>Lead</th><th>Here</th></tr></thead>
      <tbody>
        <template v-for="p in list" :key="p.id">
          <tr :class="{ selected: chosenId === p.id }" tabindex="0" @click="chosenId = p.id" @keydown.enter="chosenId = p.id"><td>{{ p.name }}</td><td>{{ p.kind }}</td><td>{{ portsInWords(p) }}</td><td class="mono">{{ p.drawW }} W</td><td class="mono">{{ p.poeBudgetW === null ? '' : `${p.poeBudgetW} W` }}</td><td class="mono">{{ p.leadM === null ? 'none' : `${p.leadM} m` }}</td><td class="mono">{{ used.get(p.id) ?? '' }}</td></tr>
          <tr v-if="chosenId === p.id && chosen"><td colspan="7" style="height: auto"><div class="in-place">
            <div v-if="!own" class="row"><span>This one is from the library.</span><v-btn size="small" @click="copy(p)">Make one of my own from it</v-btn></div>
            <div v-else class="fields"><ShellPieces>
              <FieldsEditField label="Name of the profile" :value="chosen.name" :save="(name) => change({ name })" />
              <FieldsEditField label="Draws at the most" type="number" suffix="W" :value="chosen.drawW" :save="(t) => change({ drawW: Number(t) })" mono />
              <FieldsEditField label="Gives over cables in all" type="number" suffix="W" :value="chosen.poeBudgetW" :save="(t) => change({ poeBudgetW: number(t) })" mono />
              <FieldsEditField label="Power class" type="number" hint="IEEE 802.3, 0 to 8; empty where it takes none" :value="chosen.poeClass" :save="(t) => change({ poeClass: number(t) })" mono />
              <FieldsEditField label="Power lead" type="number" suffix="m" :value="chosen.leadM" :save="(t) => change({ leadM: number(t) })" mono />
              <FieldsEditField label="Shape of serials" :value="chosen.serialShape" hint="? a letter, # a digit" :save="(t) => change({ serialShape: t ? t.toUpperCase() : null })" mono />
              <FieldsEditField label="Factory address" :value="chosen.factory.address" hint="with its length" :save="(t) => change({ factory: { ...chosen!.factory, address: t || null } })" mono />
              <FieldsEditField label="Factory account" :value="chosen.factory.account" :save="(t) => change({ factory: { ...chosen!.factory, account: t || null } })" />
              <FieldsEditField label="Firmware wanted" :value="chosen.firmware.wanted" :save="(t) => change({ firmware: { ...chosen!.firmware, wanted: t } })" mono />
              <FieldsEditField label="Firmware at the least" :value="chosen.firmware.minimum" :save="(t) => change({ firmware: { ...chosen!.firmware, minimum: t } })" mono />
              <FieldsEditField label="Starts in" type="number" suffix="s" :value="chosen.waits.bootSeconds" :save="(t) => change({ waits: { ...chosen!.waits, bootSeconds: Number(t) } })" mono />
              <FieldsEditField label="Writes firmware in" type="number" suffix="s" :value="chosen.waits.firmwareSeconds" :save="(t) => change({ waits: { ...chosen!.waits, firmwareSeconds: Number(t) } })" mono />
              <FieldsEditField label="Applies settings in" type="number" suffix="s" :value="chosen.waits.applySeconds" :save="(t) => change({ waits: { ...chosen!.waits, applySeconds: Number(t) } })" mono />
              <FieldsEditField label="Throughput, plain" type="number" suffix="Mbit/s" :value="chosen.limits.plainMbps" :save="(t) => limits({ plainMbps: number(t) })" mono />
              <FieldsEditField label="Throughput, inspected" type="number" suffix="Mbit/s" :value="chosen.limits.inspectedMbps" :save="(t) => limits({ inspectedMbps: number(t) })" mono />
              <FieldsEditField label="Throughput, tunnelled" type="number" suffix="Mbit/s" :value="chosen.limits.tunnelledMbps" :save="(t) => limits({ tunnelledMbps: number(t) })" mono />
              <FieldsEditField label="Tunnels at once" type="number" :value="chosen.limits.tunnels" :save="(t) => limits({ tunnels: number(t) })" mono />
              <v-btn v-if="!used.get(chosen.id)" variant="text" color="error" @click="refused = site.edit('removeProfile', { id: chosen!.id }); chosenId = null">Remove it</v-btn>
            </ShellPieces></div>
            <table v-if="own" class="plain ports"><thead><tr><th>Socket</th><th>Is by default</th><th>Speed</th><th>Feeds power</th><th>Takes power</th></tr></thead>
              <tbody><tr v-for="(q, i) in chosen.ports" :key="q.name"><td class="mono">{{ q.name }}</td><td><v-select variant="plain" :aria-label="`Role of ${q.name}`" :model-value="q.role" :items="[{ title: 'line', value: 'wan' }, { title: 'LAN', value: 'lan' }, { title: 'host', value: 'host' }]" @update:model-value="(role) => port(i, { role })" /></td><td class="mono">{{ q.speedMbps }} Mbit/s</td><td>{{ q.poeOutType ? `type ${q.poeOutType}` : '' }}</td><td>{{ q.poeIn ? 'yes' : '' }}</td></tr></tbody>
            </table>
            <dl v-else class="facts"><dt>Sockets</dt><dd class="mono">{{ p.ports.map((q) => `${q.name} ${roles[q.role]}${q.poeOutType ? ' ⏚' : ''}`).join(', ') }}</dd><template v-if="capacity(p)"><dt>As controller</dt><dd>{{ capacity(p) }}</dd></template><template v-if="p.factory.address"><dt>From the factory</dt><dd class="mono">{{ p.factory.address }}</dd></template><template v-if="p.licences.length"><dt>Licences</dt><dd>{{ p.licences.map((l) => `${l.name}: ${l.unlocks}`).join('; ') }}</dd></template></dl>
            <p v-if="refused" class="mark blockers" role="alert">{{ refused }}</p>
          </div></td></tr>
        </template>
      </tbody>
    </table></div>
  </div>
</template>

<style scoped>.facts { display: grid; grid-template-columns: max-content 1fr; gap: 2px 16px; margin: 8px 0 0; } .facts dt { color: var(--faint); } .facts dd { margin: 0; overflow-wrap: anywhere; } .ports { margin-top: 10px; }</style>
