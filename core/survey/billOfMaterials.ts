/**
 * What has to be bought or cut: devices that are not there yet, cables by run with slack and spare,
 * what ends them, what powers, holds and
 * carries them.
 */
import type { Link } from '../plan'
import { needsBenchInjector, type SiteModel } from '../topology'

export interface MaterialLine {
  readonly group: 'equipment' | 'cable' | 'connector' | 'power' | 'optic' | 'mount'
  readonly what: string
  readonly count: number
  /** Metres where the count is of runs of cable; null elsewhere. */
  readonly lengthM: number | null
  /** What it is for, in the order of the plan. */
  readonly runs: readonly string[]
}

/** Lead lengths that are sold, m. Common practice. */
export const leadLengthsM = [0.5, 1, 2, 3, 5, 10] as const
/** Up to here a run is a bought lead; beyond it is cut from a drum. */
const LONGEST_LEAD_M = 10
/** A reel has so much, m. Common practice: 305 m (1,000 ft). */
export const DRUM_M = 305

const withSlack = (lengthM: number, slackPercent: number): number =>
  lengthM * (1 + slackPercent / 100)
const round = (m: number): number => Math.round(m * 10) / 10

export function billOfMaterials(model: SiteModel): MaterialLine[] {
  const { slackPercent, spareLeads } = model.plan.site.cabling
  const lines = new Map<
    string,
    {
      line: Omit<MaterialLine, 'count' | 'lengthM' | 'runs'>
      count: number
      lengthM: number | null
      runs: string[]
    }
  >()
  const add = (
    group: MaterialLine['group'],
    what: string,
    count: number,
    run: string | null,
    lengthM: number | null = null,
  ): void => {
    const key = `${group}/${what}`
    const known = lines.get(key)
    if (known) {
      known.count += count
      if (lengthM !== null) known.lengthM = (known.lengthM ?? 0) + lengthM
      if (run) known.runs.push(run)
    } else lines.set(key, { line: { group, what }, count, lengthM, runs: run ? [run] : [] })
  }
  for (const d of model.devices)
    if (!d.stays) add('equipment', model.profileOf(d.id).name, 1, d.name)
  for (const link of Object.values(model.plan.links).sort((a, b) => (a.id < b.id ? -1 : 1)))
    addRun(model, link, slackPercent, add)
  for (const d of model.devices) {
    if (d.stays) continue
    if (d.power === 'injector') add('power', 'Power injector 30 W', 1, d.name)
    const { mount } = model.profileOf(d.id)
    const holder = mountNames[mount]
    if (holder) add('mount', holder, 1, d.name)
    if (mount === 'pole') add('mount', 'Pole clamps, pair', 1, d.name)
  }
  // What takes power over its cable alone has to get it on the bench too, before its switch is set
  // up.
  const benched = model.devices.filter((d) => !d.stays && needsBenchInjector(model, d))
  if (benched.length > 0)
    add('power', 'Power injector 30 W for the bench', 1, benched.map((d) => d.name).join(', '))
  if (spareLeads > 0) add('cable', `Copper lead ${leadLengthsM[2]} m`, spareLeads, 'spare')
  const metres = [...lines.values()]
    .filter((l) => l.line.group === 'cable' && l.line.what.includes('drum'))
    .reduce((n, l) => n + (l.lengthM ?? 0), 0)
  if (metres > 0) add('cable', `Drum ${DRUM_M} m copper`, Math.ceil(metres / DRUM_M), null)
  const order: readonly MaterialLine['group'][] = [
    'equipment',
    'cable',
    'connector',
    'optic',
    'power',
    'mount',
  ]
  return [...lines.values()]
    .map(({ line, count, lengthM, runs }): MaterialLine => ({
      ...line,
      count,
      lengthM: lengthM === null ? null : round(lengthM),
      runs,
    }))
    .sort((a, b) => order.indexOf(a.group) - order.indexOf(b.group) || (a.what < b.what ? -1 : 1))
}

const mountNames = {
  rack: 'Rack ears',
  shelf: '',
  wall: 'Wall bracket',
  ceiling: 'Ceiling bracket',
  pole: 'Pole bracket',
  none: '',
} as const

function addRun(
  model: SiteModel,
  link: Link,
  slackPercent: number,
  add: (
    group: MaterialLine['group'],
    what: string,
    count: number,
    run: string,
    lengthM?: number | null,
  ) => void,
): void {
  const run = `${model.portName(link.a)} to ${model.portName(link.b)}`
  if (link.medium === 'radio') return
  const needed = withSlack(link.lengthM, slackPercent)
  if (link.medium === 'fibre') {
    add('cable', 'Fibre, single-mode pair', 1, run, round(needed))
    for (const end of [link.a, link.b])
      if (model.profilePortOf(end).medium === 'optical')
        add(
          'optic',
          `Optic ${model.profilePortOf(end).speedMbps / 1000} Gbit/s`,
          1,
          model.portName(end),
        )
      else add('optic', 'Media converter', 1, model.portName(end))
    return
  }
  // Two optical sockets are joined by one ready-made lead with its ends on.
  if (
    model.profilePortOf(link.a).medium === 'optical' &&
    model.profilePortOf(link.b).medium === 'optical'
  ) {
    add('cable', 'Direct-attach lead', 1, run)
    return
  }
  for (const end of [link.a, link.b])
    if (model.profilePortOf(end).medium === 'optical')
      add('optic', 'Copper plug for an optical socket', 1, model.portName(end))
  const lead = leadLengthsM.find((l) => l >= needed)
  const isOutdoor = outdoors(model, link)
  if (lead !== undefined && needed <= LONGEST_LEAD_M && !isOutdoor) {
    add('cable', `Copper lead ${lead} m`, 1, run)
    return
  }
  add(
    'cable',
    isOutdoor ? 'Outdoor copper off the drum' : 'Copper off the drum',
    1,
    run,
    round(needed),
  )
  add('connector', isOutdoor ? 'Plug, shielded' : 'Plug', 2, run)
}

const outdoors = (model: SiteModel, link: Link): boolean =>
  [link.a, link.b].some((p) => {
    const location = model.plan.locations[model.device(model.port(p).deviceId).locationId ?? '']
    return location !== undefined && ['outdoors', 'mast', 'roof'].includes(location.kind)
  })
