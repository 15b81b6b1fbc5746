/**
 * Power over Ethernet. What a switch must set aside per powered device is the source power of the
 * device's class (IEEE 802.3
 * clauses 33.3.7 and 145.3.8, table values from memory; the loss they contain is checked from first
 * principles in the test): the
 * difference to what the device takes is lost in the cable.
 */
import { selected } from '../remember'
import type { Device } from '../plan'
import type { SiteModel } from './siteModel'

/** Source power by class 0-8, W. */
export const sourcePowerW = [15.4, 4, 7, 15.4, 30, 45, 60, 75, 90] as const
/** Power at the device by class 0-8, W. */
export const devicePowerW = [12.95, 3.84, 6.49, 12.95, 25.5, 40, 51, 62, 71.3] as const
/** The highest class that a source of type 1-4 serves. */
export const highestClassOfType = { 1: 3, 2: 4, 3: 6, 4: 8 } as const

export interface PoweredDevice {
  readonly deviceId: string
  readonly portId: string
  /** What it is given, which may be less than it asks for. */ readonly poeClass: number
  readonly reservedW: number
}
/**
 * A device whose class is over its socket's type: it is given the highest that the type has (IEEE
 * 802.3 145.2.8), which may do or not.
 */
export interface DemotedDevice {
  readonly deviceId: string
  readonly portId: string
  readonly poeClass: number
  readonly givenClass: number
  readonly givenW: number
  readonly drawW: number
}
export interface PowerBudget {
  readonly deviceId: string
  readonly budgetW: number
  readonly powered: readonly PoweredDevice[]
  readonly reservedW: number
  readonly sockets: number
  readonly socketsUsed: number
}

/** Worst loss in the cable, W: current squared times the loop resistance. */
export const cableLossW = (currentA: number, loopOhm: number): number => currentA ** 2 * loopOhm

export interface Power {
  readonly budgets: readonly PowerBudget[]
  readonly demoted: readonly DemotedDevice[]
  readonly unfed: readonly { deviceId: string; reason: string }[]
}

/**
 * Budgets of every switch that feeds power, and the devices that want power from a cable that has
 * none. Kept while devices, cables and profiles stay as they are.
 */
export const powerOf: (model: SiteModel) => Power = selected(
  ({ plan }) => [plan.devices, plan.links, plan.profiles],
  (model) => reckon(model),
)

function reckon(model: SiteModel): Power {
  const powered = new Map<string, PoweredDevice[]>()
  const unfed: { deviceId: string; reason: string }[] = []
  const demoted: DemotedDevice[] = []
  for (const d of model.devices) {
    if (d.power !== 'poe') continue
    const poeClass = model.profileOf(d.id).poeClass
    const feeding = model
      .portsOf(d.id)
      .filter((p) => model.profilePortOf(p.id).poeIn)
      .map((p) => model.peerOf(p.id))
      .find((p) => p !== undefined)
    if (poeClass === null)
      unfed.push({ deviceId: d.id, reason: 'cannot be powered over its cable' })
    else if (!feeding) unfed.push({ deviceId: d.id, reason: 'has no cable in its powered socket' })
    else {
      const type = model.profilePortOf(feeding.id).poeOutType
      if (type === null)
        unfed.push({
          deviceId: d.id,
          reason: `hangs on ${model.portName(feeding.id)}, which feeds no power`,
        })
      else {
        const { drawW } = model.profileOf(d.id)
        const givenClass = Math.min(poeClass, highestClassOfType[type])
        if (givenClass < poeClass)
          demoted.push({
            deviceId: d.id,
            portId: feeding.id,
            poeClass,
            givenClass,
            givenW: devicePowerW[givenClass]!,
            drawW,
          })
        const reservedW =
          model.profileOf(feeding.deviceId).poeAllocation === 'class'
            ? sourcePowerW[givenClass]!
            : sourceFor(givenClass, drawW)
        powered.set(feeding.deviceId, [
          ...(powered.get(feeding.deviceId) ?? []),
          { deviceId: d.id, portId: feeding.id, poeClass: givenClass, reservedW },
        ])
      }
    }
  }
  const budgets = model.devices.flatMap((d): PowerBudget[] => {
    const budgetW = model.profileOf(d.id).poeBudgetW
    if (budgetW === null) return []
    const list = powered.get(d.id) ?? []
    const sockets = model.portsOf(d.id).filter((p) => model.profilePortOf(p.id).poeOutType !== null)
    return [
      {
        deviceId: d.id,
        budgetW,
        powered: list,
        reservedW: list.reduce((sum, p) => sum + p.reservedW, 0),
        sockets: sockets.length,
        socketsUsed: sockets.filter((p) => model.linkAt(p.id)).length,
      },
    ]
  })
  return { budgets, demoted, unfed }
}

/**
 * What has to leave the socket for a device of a class that takes so much: the loss in the cable
 * goes with the square of what flows.
 */
export function sourceFor(poeClass: number, drawW: number): number {
  const [source, device] = [sourcePowerW[poeClass]!, devicePowerW[poeClass]!]
  const share = Math.min(1, drawW / device)
  return Math.min(source, device * share + (source - device) * share ** 2)
}

/**
 * How many devices of a draw a budget feeds, by division and by counting sockets; the lesser is
 * true.
 */
export const countByBudget = (budgetW: number, drawW: number, sockets: number): number =>
  Math.min(Math.floor(budgetW / drawW), sockets)

/**
 * Whether a device has to be powered over its cable on the bench too: it has neither a lead nor a
 * supply of its own.
 */
export const needsBenchInjector = (model: SiteModel, d: Device): boolean =>
  d.power === 'poe' &&
  model.profileOf(d.id).leadM === null &&
  model.profileOf(d.id).factory.address !== null
