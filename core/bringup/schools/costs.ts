/** What each school costs the day: made into a run sheet of its own and laid out. */
import {
  applyEdits,
  schools,
  type Device,
  type EditCall,
  type School,
  type SitePlan,
} from '../../plan'
import { siteModel, type SiteModel } from '../../topology'
import { runSheetOf } from '../runSheet'
import { scheduleOf } from '../scheduling/schedule'
import { travelIn } from '../scheduling/travel'
import { setUpOf, whyNotPrepared } from './school'

export interface SchoolCost {
  readonly school: School
  readonly at: 'bench' | 'place'
  readonly totalSeconds: number
  readonly workSeconds: number
  /** How often somebody comes to a place of the site. */
  readonly visits: number
  /** For how long the laptop is needed, s. */
  readonly laptopSeconds: number
  /** Whether the devices are set up so already. */
  readonly isNow: boolean
}
export interface SchoolCosts {
  readonly costs: readonly SchoolCost[]
  /** Of those that cannot have everything prepared. */
  readonly refused: readonly { readonly deviceId: string; readonly why: string }[]
}

/** Hands on a laptop; a prepared device asks for none. */
const BY_LAPTOP: ReadonlySet<string> = new Set([
  'laptop',
  'password',
  'firmware',
  'configure',
  'set',
  'bridge-set',
])

export const chooseSchool = (
  devices: readonly Device[],
  changes: Partial<Pick<Device, 'school' | 'setUpAt' | 'setUpBy'>>,
): EditCall[] => devices.map((d) => ({ name: 'changeDevice', args: { id: d.id, changes } }))

/** @param people who work on the day */
export function schoolCosts(
  plan: SitePlan,
  deviceIds: readonly string[],
  people: number,
): SchoolCosts {
  const model = siteModel(plan)
  const devices = deviceIds.flatMap((id) => plan.devices[id] ?? [])
  const refused = devices.flatMap((d) => {
    const why = whyNotPrepared(model, d)
    return why ? [{ deviceId: d.id, why }] : []
  })
  const options = schools
    .filter(
      (s) =>
        (s !== 'prepared' || refused.length < devices.length) &&
        // What no controller adopts has one school.
        (s !== 'mixed' ||
          devices.some((d) => model.hasController && model.profileOf(d.id).adoptable)),
    )
    .flatMap((school) =>
      // What fetches everything is never on a bench.
      (school === 'prepared' ? (['place'] as const) : (['bench', 'place'] as const)).map((at) => ({
        school,
        at,
      })),
    )
  return {
    refused,
    costs: options.map(({ school, at }) => ({
      school,
      at,
      isNow: devices.every((d) => isLike(model, d, school, at)),
      ...costOf(
        siteModel(applyEdits(plan, chooseSchool(devices, { school, setUpAt: at }))),
        people,
      ),
    })),
  }
}

function isLike(model: SiteModel, device: Device, school: School, at: string): boolean {
  const now = setUpOf(model, device)
  return now.school === school && (school === 'prepared' || now.at === at)
}

function costOf(
  model: SiteModel,
  people: number,
): Pick<SchoolCost, 'totalSeconds' | 'workSeconds' | 'visits' | 'laptopSeconds'> {
  const steps = runSheetOf(model)
  const { totalSeconds, workSeconds, steps: laid } = scheduleOf(steps, people, travelIn(model.plan))
  return {
    totalSeconds,
    workSeconds,
    visits: laid.filter((s) => s.travelSeconds > 0).length,
    laptopSeconds: steps
      .filter((s) => BY_LAPTOP.has(s.kind))
      .reduce((t, s) => t + s.workSeconds + s.waitSeconds, 0),
  }
}
