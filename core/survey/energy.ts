/** Electricity of a site: what draws from an outlet, a year of it, and its price. */
import { devicePowerW, sourcePowerW, type SiteModel } from '../topology'

/** Hours of a year of 365.25 days. */
export const HOURS_A_YEAR = 8766

export interface EnergyLine {
  readonly deviceId: string
  readonly drawW: number
  readonly kwhAYear: number
  readonly via: 'outlet' | 'cable' | 'injector'
}
export interface Energy {
  readonly lines: readonly EnergyLine[]
  readonly totalW: number
  readonly kwhAYear: number
  /** In the currency of the site; null without a price. */
  readonly costAYear: number | null
}

export const kwhAYear = (drawW: number): number => (drawW * HOURS_A_YEAR) / 1000

/**
 * Clients that carry a battery are left out, and what a battery feeds: neither is on this bill.
 * What is fed over a cable counts with what the source sets
 * aside, since the loss in the cable is paid for too.
 */
export function energyOf(model: SiteModel): Energy {
  const lines = model.devices.flatMap((d): EnergyLine[] => {
    const profile = model.profileOf(d.id)
    if (
      d.power === 'battery' ||
      profile.drawW === 0 ||
      (profile.kind === 'host' && profile.air.length > 0)
    )
      return []
    const viaCable = d.power === 'poe' || d.power === 'injector'
    const loss = viaCable && profile.poeClass !== null ? lossShare(profile.poeClass) : 1
    const drawW = profile.drawW * loss
    return [
      {
        deviceId: d.id,
        drawW,
        kwhAYear: kwhAYear(drawW),
        via: d.power === 'poe' ? 'cable' : d.power === 'injector' ? 'injector' : 'outlet',
      },
    ]
  })
  const totalW = lines.reduce((n, l) => n + l.drawW, 0)
  const { electricity } = model.plan.site
  return {
    lines,
    totalW,
    kwhAYear: kwhAYear(totalW),
    costAYear: electricity ? kwhAYear(totalW) * electricity.pricePerKwh : null,
  }
}

/** What the source gives for one watt at the device, in the worst cable of the class. */
const lossShare = (poeClass: number): number => sourcePowerW[poeClass]! / devicePowerW[poeClass]!
