/** What is reckoned of all bridges of a plan, kept as long as the plan is the same. */
import type { Bridge } from '../plan'
import { remembered } from '../remember'
import type { SiteModel } from '../topology'
import { stepHeldFor, stepTimes, type StepTime } from './budget/availability'
import { budgetOf, type Budget } from './budget/budget'
import { sharedMbps } from './budget/rates'
import { carriedBy, type Carried } from './carried'
import { bridgeFacts, isKnown, type Missing } from './facts'

export interface Reckoned {
  readonly bridge: Bridge
  readonly budget: Budget
  readonly timesToB: readonly StepTime[]
  readonly timesToA: readonly StepTime[]
  readonly carried: Carried
  /** The step that stands for as much of the year as is asked, in both directions; null where none. */
  readonly heldToB: StepTime | null
  readonly heldToA: StepTime | null
  /** What passes of what has to, in clear weather and at the steps that are held, Mbit/s. */
  readonly clear: Passing
  readonly held: Passing
  /** The slowest socket of copper on its way, Mbit/s. */
  readonly socketMbps: number
}
export interface Passing {
  readonly toB: number
  readonly toA: number
  /** Of the air, 0 to 1; over 1 is too much. */
  readonly airtime: number
}

/** As measured: nothing has grown since. */
export const AS_MEASURED = new Date(0)

const copperMbps = (model: SiteModel, deviceId: string): number => {
  const speeds = model
    .portsOf(deviceId)
    .filter((p) => model.linkAt(p.id)?.medium !== 'radio' && model.linkAt(p.id) !== undefined)
    .map((p) => model.profilePortOf(p.id).speedMbps)
  return speeds.length === 0 ? Infinity : Math.min(...speeds)
}

export function reckon(model: SiteModel, bridge: Bridge, day: Date): Reckoned | Missing {
  const facts = bridgeFacts(model, bridge)
  if (!isKnown(facts)) return facts
  const budget = budgetOf(facts, model.plan.site, day)
  const [timesToB, timesToA] = [
    stepTimes(budget, budget.toB),
    stepTimes(budget, budget.toA),
  ] as const
  const carried = carriedBy(model, bridge)
  const socketMbps = Math.min(
    copperMbps(model, facts.a.device.id),
    copperMbps(model, facts.b.device.id),
  )
  const [heldToB, heldToA] = [timesToB, timesToA].map(
    (t) => stepHeldFor(t, bridge.availabilityPercent) ?? null,
  ) as [StepTime | null, StepTime | null]
  const passing = (toB: number, toA: number): Passing => {
    const shared = sharedMbps(facts.a.unit, { toB, toA }, carried)
    return {
      toB: Math.min(shared.toB, socketMbps),
      toA: Math.min(shared.toA, socketMbps),
      airtime: shared.airtime,
    }
  }
  return {
    bridge,
    budget,
    timesToB,
    timesToA,
    carried,
    heldToB,
    heldToA,
    clear: passing(budget.toB.step?.mbps ?? 0, budget.toA.step?.mbps ?? 0),
    held: passing(heldToB?.step.mbps ?? 0, heldToA?.step.mbps ?? 0),
    socketMbps,
  }
}
export const isReckoned = (r: Reckoned | Missing): r is Reckoned => 'budget' in r

/** All bridges, as measured, by their ids. */
export const reckonedBridges: (model: SiteModel) => ReadonlyMap<string, Reckoned | Missing> =
  remembered(
    (model: SiteModel) =>
      new Map(
        Object.values(model.plan.bridges)
          .sort((a, b) => (a.id < b.id ? -1 : 1))
          .map((bridge) => [bridge.id, reckon(model, bridge, AS_MEASURED)] as const),
      ),
  )
/** Those of which enough is known. */
export const knownBridges = (model: SiteModel): Reckoned[] =>
  [...reckonedBridges(model).values()].filter(isReckoned)
