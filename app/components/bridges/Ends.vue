<script setup lang="ts">
/** Both ends next to each other: how they are set, what fits and what does not. */
import {
  COORDINATES_EXPECTED,
  polarisations,
  readCoordinates,
  type BridgeEnd,
} from '@mast/core/plan'
import {
  compareEnds,
  coverageClass,
  distanceWords,
  handAddress,
  leastDistance,
  type EndName,
} from '@mast/core/bridges'
import { setSecret } from '@mast/api'
import { useBridge } from './useBridge'

const site = useSite()
const { bridge, reckoned, change, changeEnd } = useBridge()
const compared = computed(() =>
  reckoned.value ? compareEnds(reckoned.value.budget.facts, site.opened.plan.site) : [],
)
const facts = computed(() => reckoned.value?.budget.facts)
const unit = (end: EndName) => facts.value?.[end].unit
const numberOr = (text: string): number | null => (text === '' ? null : Number(text))
const roles = [
  { title: 'not set', value: null },
  { title: 'main end', value: 'main' },
  { title: 'far end', value: 'far' },
] as const
const mounts = [
  { title: 'on a wall', value: 'wall' },
  { title: 'on a pole', value: 'pole' },
  { title: 'on a mast', value: 'mast' },
  { title: 'on a roof, held by weight', value: 'weighted' },
] as const
const polarisationItems = polarisations.map((value) => ({
  title: value === 'both' ? 'both ways at once' : value,
  value,
}))
const channels = (end: EndName) => [
  { title: 'not set', value: null as number | null },
  ...(unit(end)?.channels ?? []).map((c) => ({
    title: `${c.number}, ${c.mhz} MHz`,
    value: c.number as number | null,
  })),
]
const widths = (end: EndName) =>
  (unit(end)?.widthsMhz ?? []).map((w) => ({ title: `${w} MHz`, value: w }))
/** Of both ends the same: it is kept in the vault, and the plan says where. */
async function saveKey(end: EndName, secret: string): Promise<string | undefined> {
  if (!bridge.value) return undefined
  const other = bridge.value[end === 'a' ? 'b' : 'a']
  const name = bridge.value[end].keyRef || other.keyRef || `bridge-${bridge.value.id}`.slice(0, 64)
  try {
    await ask(setSecret, { params: { site: site.opened.id, ref: name }, body: { secret } })
  } catch (error) {
    return errorText(error)
  }
  return bridge.value[end].keyRef === name ? undefined : changeEnd(end, { keyRef: name })
}
const refused = ref<string | undefined>()
const set = (end: EndName, changes: Partial<BridgeEnd>): void => {
  refused.value = changeEnd(end, changes)
}
function saveAntenna(end: EndName, text: string): string | undefined {
  if (text === '') return changeEnd(end, { antenna: null })
  const m = /^([\d.]+)(?:\s*dBi)?\s*,\s*([\d.]+)(?:\s*degrees)?(?:\s*,\s*([\d.]+)\s*m?)?$/i.exec(
    text,
  )
  return m
    ? changeEnd(end, {
        antenna: {
          gainDbi: Number(m[1]),
          widthDegrees: Number(m[2]),
          diameterM: m[3] === undefined ? null : Number(m[3]),
        },
      })
    : 'expected gain, width of its beam and, of a dish, its size: 30 dBi, 5 degrees, 0.6 m'
}
const antennaWords = (e: BridgeEnd): string =>
  e.antenna
    ? `${e.antenna.gainDbi} dBi, ${e.antenna.widthDegrees} ` +
      `degrees${e.antenna.diameterM === null ? '' : `, ${e.antenna.diameterM} m`}`
    : ''
function saveAt(end: EndName, text: string): string | undefined {
  if (text === '') return changeEnd(end, { at: null })
  const at = readCoordinates(text)
  return at ? changeEnd(end, { at: { ...at } }) : COORDINATES_EXPECTED
}
const distanceHint = (end: EndName): string => {
  const u = unit(end)
  if (!u || !facts.value) return ''
  const least = leastDistance(u, facts.value.way.metres)
  return least === null
    ? 'sets itself'
    : `${distanceWords(u, least)} at the least; class ${coverageClass(facts.value.way.metres)}`
}
const lawful = (end: EndName): string => {
  const d = reckoned.value?.budget[end === 'a' ? 'toB' : 'toA']
  if (!d) return ''
  const { lawfulDbm } = d.sending
  return lawfulDbm === null
    ? 'empty: all that it can'
    : `empty: all that is lawful, ${Math.min(lawfulDbm, unit(end)!.mostPowerDbm)} dBm`
}
const byHand = computed(() =>
  facts.value
    ? (['a', 'b'] as const).flatMap((end) => {
        const e = facts.value![end]
        const address =
          e.set.role && e.set.channel ? handAddress(e.unit, e.set.role, e.set.channel) : null
        return e.unit.setting === 'hand'
          ? [
              {
                name: e.device.name,
                text: address
                  ? `shows ${e.set.role === 'main' ? 'the main end' : 'the far end'} and channel ` +
                    `${e.set.channel}; then its page is at ${address}`
                  : 'set a role and a channel with its buttons; its address follows from both',
              },
            ]
          : []
      })
    : [],
)
/** The second end takes what both have in common. */
function takeOver(): void {
  if (!bridge.value) return
  const { a, b } = bridge.value
  refused.value = change({
    b: {
      ...b,
      role: a.role === 'main' ? 'far' : 'main',
      channel: a.channel,
      widthMhz: a.widthMhz,
      polarisation: a.polarisation,
      country: site.opened.plan.site.country,
      keyRef: a.keyRef,
      distance: a.distance,
    },
    a: { ...a, country: site.opened.plan.site.country },
  })
}
</script>

<template>
  <section v-if="bridge" aria-label="Both ends">
    <h2>Both ends</h2>
    <div class="scroll-x">
      <table v-if="compared.length" class="plain" aria-label="Settings of both ends compared">
        <thead>
          <tr>
            <th>Setting</th>
            <th>A {{ facts?.a.device.name }}</th>
            <th>B {{ facts?.b.device.name }}</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in compared" :key="c.id">
            <td>{{ c.label }}</td>
            <td class="mono">{{ c.a }}</td>
            <td class="mono">{{ c.b }}</td>
            <td>
              <span v-if="c.problem" class="mark" :class="c.stops ? 'blockers' : 'cautions'"
                ><ShellStateShape :kind="c.stops ? 'blockers' : 'cautions'" /> {{ c.problem }}</span
              >
              <span v-else class="faint">fits</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-for="h in byHand" :key="h.name">{{ h.name }} {{ h.text }}.</p>
    <div class="row no-print take">
      <v-btn @click="takeOver">Set B to fit A</v-btn>
    </div>
    <Refusal :says="refused" />
    <div class="two no-print">
      <div v-for="end in ['a', 'b'] as const" :key="end">
        <h3>{{ end.toUpperCase() }} {{ facts?.[end].device.name ?? '' }}</h3>
        <div class="fields">
          <FieldsEditField
            label="Height of the antenna"
            type="number"
            suffix="m"
            :value="bridge[end].heightM"
            hint="above the ground; empty: its place"
            :save="(t) => changeEnd(end, { heightM: numberOr(t) })"
            mono
          />
          <FieldsEditField
            label="Height of the ground"
            type="number"
            suffix="m"
            :value="bridge[end].groundM"
            hint="above the sea; empty: as read"
            :save="(t) => changeEnd(end, { groundM: numberOr(t) })"
            mono
          />
          <FieldsEditField
            label="Coordinates"
            :value="
              bridge[end].at ? `${bridge[end].at!.latitude}, ${bridge[end].at!.longitude}` : ''
            "
            hint="empty: those of its place"
            :save="(t) => saveAt(end, t)"
            mono
          />
          <v-select
            label="Hangs"
            :model-value="bridge[end].mount"
            :items="mounts"
            @update:model-value="(mount: BridgeEnd['mount']) => set(end, { mount })"
          />
          <FieldsEditField
            v-if="bridge[end].mount === 'weighted'"
            label="Held by"
            type="number"
            suffix="kg"
            :value="bridge[end].ballastKg"
            :save="(t) => changeEnd(end, { ballastKg: Number(t) })"
            mono
          />
          <FieldsEditField
            label="Other antenna"
            :value="antennaWords(bridge[end])"
            :hint="`empty: its own, ${unit(end)?.antenna.gainDbi ?? '?'} dBi`"
            :save="(t) => saveAntenna(end, t)"
            mono
          />
          <FieldsEditField
            label="Cable to the antenna"
            type="number"
            suffix="dB"
            :value="bridge[end].cableDb"
            :save="(t) => changeEnd(end, { cableDb: Number(t) })"
            mono
          />
          <v-select
            label="Polarisation"
            :model-value="bridge[end].polarisation"
            :items="polarisationItems"
            @update:model-value="
              (polarisation: BridgeEnd['polarisation']) => set(end, { polarisation })
            "
          />
          <v-select
            label="Role"
            :model-value="bridge[end].role"
            :items="roles"
            @update:model-value="(role: BridgeEnd['role']) => set(end, { role })"
          />
          <v-select
            label="Channel"
            :model-value="bridge[end].channel"
            :items="channels(end)"
            @update:model-value="(channel: number | null) => set(end, { channel })"
          />
          <v-select
            label="Width"
            :model-value="bridge[end].widthMhz"
            :items="widths(end)"
            @update:model-value="(widthMhz: number) => set(end, { widthMhz })"
          />
          <FieldsEditField
            label="Power"
            type="number"
            suffix="dBm"
            :value="bridge[end].powerDbm"
            :hint="lawful(end)"
            :save="(t) => changeEnd(end, { powerDbm: numberOr(t) })"
            mono
          />
          <FieldsEditField
            label="Country that it was told"
            :value="bridge[end].country ?? ''"
            :save="(t) => changeEnd(end, { country: t === '' ? null : t.toUpperCase() })"
            mono
          />
          <FieldsEditField
            label="Distance setting"
            type="number"
            :value="bridge[end].distance"
            :hint="distanceHint(end)"
            :save="(t) => changeEnd(end, { distance: numberOr(t) })"
            mono
          />
          <FieldsKeyField label="Key, 14 or more" :save="(t) => saveKey(end, t)" />
        </div>
      </div>
    </div>
  </section>
</template>

<style scoped>
.take {
  margin-top: 10px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 28px;
}
.two .fields {
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
