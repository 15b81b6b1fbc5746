<script setup lang="ts">
/** Extenders on a plan of the place: where each may stand, and what is left behind it. */
import { lightWords, type Device, type Floor, type Light } from '@mast/core/plan'
import type { Outline } from '~/workers/outlines'
import { useAirTask } from './useAirTask'
import {
  alongTheWay,
  bestOutlets,
  isLinkState,
  lampAdvice,
  MARKS_PERCENT,
  isRepeater,
  repeatingOf,
  schools,
  standAt,
  withoutExtender,
  type ExtenderCase,
  type School,
} from '@mast/core/wifi'

const { floor, probe } = defineProps<{
  floor: Floor
  /** The spot that is to be better. */
  probe: { x: number; y: number } | null
}>()
const emit = defineEmits<{ marks: [outlines: readonly Outline[]] }>()
const site = useSite()
const marks = useAirTask<readonly Outline[]>()
watch(marks.result, (list) => emit('marks', list ?? []))
watch(
  () => [floor.id, site.opened.plan],
  () => {
    marks.stop()
    marks.result.value = null
  },
)
/** What somebody sees at the lamp of each. */
const seen = reactive<Record<string, Light['state'] | null>>({})
const lampsOf = (d: Device) =>
  model.value
    .profileOf(d.id)
    .lights.filter((l) => isLinkState(l.state))
    .map((l) => ({ title: lightWords(l), value: l.state }))
const meaningOf = (d: Device, state: Light['state']): string =>
  model.value.profileOf(d.id).lights.find((l) => l.state === state)?.meaning ?? ''
const model = computed(() => site.opened.model)
const extenders = computed(() => model.value.devices.filter((d) => isRepeater(model.value, d)))
const points = computed(() =>
  model.value.devices.filter(
    (d) => d.place?.floorId === floor.id && model.value.profileOf(d.id).kind === 'access-point',
  ),
)
const school = computed(() => site.opened.plan.site.wireless.extenders)
const schoolItems = (Object.keys(schools) as School[]).map((value) => ({
  title:
    `${schools[value].name}: ${schools[value].atFirst} % before it is set up, ` +
    `${schools[value].atLast} % at its outlet`,
  value,
}))
const refused = ref<string | undefined>()
const rows = computed(() =>
  extenders.value.flatMap((device) => {
    const found = repeatingOf(model.value, device, probe)
    if (found?.floor.id !== floor.id) return []
    const now = standAt(found.case, device.place!)
    const outlets = bestOutlets(found.case, floor.outlets, school.value)
    const says = seen[device.id]
    return [
      {
        device,
        found,
        now,
        before: withoutExtender(found.case),
        way: probe ? wayOf(found.case) : null,
        outlets: outlets.slice(0, 5),
        advice: says && isLinkState(says) ? lampAdvice(says, now, outlets, school.value) : null,
      },
    ]
  }),
)
/** What comes through along the way, with one radio and with two, as lines of 100 x 40. */
function wayOf(c: ExtenderCase) {
  const [one, two] = ([1, 2] as const).map((radios) => alongTheWay({ ...c, radios }))
  const most = Math.max(1, ...two!.map((s) => s.mbps))
  const line = (list: typeof one): string =>
    list!
      .map(
        (s, n) =>
          `${((100 * n) / Math.max(1, list!.length - 1)).toFixed(1)},${(40 - (38 * s.mbps) / most).toFixed(1)}`,
      )
      .join(' ')
  const best = two!.reduce((a, b) => (b.mbps > a.mbps ? b : a))
  return { one: line(one), two: line(two), most, best }
}
const listens = (d: Device, listensToId: string | null): void => {
  refused.value = site.edit('changeDevice', { id: d.id, changes: { listensToId } })
}
const plug = (d: Device, at: { x: number; y: number }): void => {
  refused.value = site.edit('changeDevice', {
    id: d.id,
    changes: { place: { ...d.place!, x: at.x, y: at.y } },
  })
}
function addOutlet(): void {
  if (!probe) return
  const at = { x: Math.round(probe.x * 10) / 10, y: Math.round(probe.y * 10) / 10 }
  refused.value = site.edit('changeFloor', {
    id: floor.id,
    changes: { outlets: [...floor.outlets, at] },
  })
}
const name = (id: string): string => site.opened.plan.devices[id]?.name ?? id
</script>

<template>
  <section v-if="extenders.length" aria-label="Extenders">
    <h2>Extenders</h2>
    <div class="row no-print">
      <v-select
        label="Placed"
        :model-value="school"
        :items="schoolItems"
        style="max-width: 460px"
        @update:model-value="
          (extenders: School) => site.edit('changeSite', { wireless: { extenders } })
        "
      />
      <v-btn :disabled="!probe" @click="addOutlet">There is an outlet where I tapped</v-btn>
    </div>
    <div class="row no-print">
      <v-select
        v-for="d in extenders"
        :key="d.id"
        :label="`${d.name} repeats`"
        :model-value="d.listensToId"
        :items="points"
        item-title="name"
        item-value="id"
        style="max-width: 240px"
        @update:model-value="(id: string | null) => listens(d, id)"
      />
    </div>
    <Refusal :says="refused" />
    <template v-for="r in rows" :key="r.device.id">
      <p role="status">
        {{ r.device.name }} hears {{ name(r.found.pointId) }} with {{ r.now.percent }} % ({{
          Math.round(r.now.dbm)
        }}
        dBm) in {{ r.found.band }} GHz. {{ probe ? 'Where you tapped' : 'Beside it' }} there are
        {{ Math.round(r.before.dbm) }} dBm and {{ Math.round(r.before.mbps) }} Mbit/s without it,
        {{ Math.round(r.now.clientDbm) }} dBm and {{ Math.round(r.now.mbps) }} Mbit/s through it ({{
          r.found.case.radios === 1
            ? 'one radio: each packet twice on the air'
            : 'two radios: the slower stretch rules'
        }}).
      </p>
      <div class="row">
        <v-btn
          v-if="!marks.isWorking.value"
          class="no-print"
          size="small"
          @click="marks.run(site.opened.plan, (w, p) => w.marks(p, r.device.id))"
          >Draw where it hears {{ MARKS_PERCENT.join(', ') }} %</v-btn
        >
        <v-select
          v-if="lampsOf(r.device).length"
          v-model="seen[r.device.id]"
          :label="`Lamp of ${r.device.name}`"
          :items="lampsOf(r.device)"
          clearable
          style="max-width: 260px"
        />
      </div>
      <div v-if="r.advice" role="status" class="row">
        <p>{{ meaningOf(r.device, seen[r.device.id]!) }} {{ r.advice.text }}</p>
        <v-btn
          v-if="r.advice.next"
          class="no-print"
          size="small"
          @click="plug(r.device, r.advice.next.at)"
          >It is there now</v-btn
        >
      </div>
      <figure v-if="r.way" class="way">
        <svg viewBox="0 0 100 42" role="img" aria-label="What comes through along the way">
          <polyline :points="r.way.two" class="two" />
          <polyline :points="r.way.one" class="one" />
        </svg>
        <figcaption class="faint">
          From the access point on the left to where you tapped: with two radios (solid) up to
          {{ Math.round(r.way.most) }} Mbit/s, with one (dashed) half of that. Best at
          {{ r.way.best.at.x.toFixed(0) }}, {{ r.way.best.at.y.toFixed(0) }} m, where it hears
          {{ r.way.best.percent }} %.
        </figcaption>
      </figure>
      <table v-if="r.outlets.length" class="plain" :aria-label="`Outlets for ${r.device.name}`">
        <thead>
          <tr>
            <th>Outlet</th>
            <th>Hears</th>
            <th>To the access point</th>
            <th>To {{ probe ? 'where you tapped' : 'its side' }}</th>
            <th>Through both</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="o in r.outlets" :key="`${o.at.x} ${o.at.y}`">
            <td class="mono">{{ o.at.x }}, {{ o.at.y }} m</td>
            <td class="mono">{{ o.percent }} %{{ o.isLetThrough ? '' : ', too little' }}</td>
            <td class="mono">{{ Math.round(o.toPointMbps) }} Mbit/s</td>
            <td class="mono">{{ Math.round(o.toClientMbps) }} Mbit/s</td>
            <td class="mono">{{ Math.round(o.mbps) }} Mbit/s</td>
            <td>
              <v-btn class="no-print" size="small" variant="text" @click="plug(r.device, o.at)"
                >Plug it in there</v-btn
              >
            </td>
          </tr>
        </tbody>
      </table>
    </template>
    <p v-if="rows.length === 0" class="faint">
      Say which access point an extender repeats, and put both on this plan.
    </p>
  </section>
</template>

<style scoped>
.row {
  margin-top: 12px;
}
.way {
  max-width: 420px;
  margin: 8px 0;
}
.way svg {
  width: 100%;
  border-bottom: 1px solid var(--hair);
  border-left: 1px solid var(--hair);
}
.one,
.two {
  fill: none;
  stroke: var(--action);
  stroke-width: 1;
}
.one {
  stroke-dasharray: 2 1.5;
}
</style>
