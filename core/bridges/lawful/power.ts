/** The power that an end sends with: what is set, or all that is lawful and that it can. */
import type { SitePlan } from '../../plan'
import type { BridgeFacts, EndFacts } from '../facts'
import { fixedLawOf, type FixedVerdict } from './fixedLaw'

export interface SendingPower {
  /** At the socket of the unit, dBm. */
  readonly powerDbm: number
  readonly eirpDbm: number
  /** The most that is lawful at the socket, with this antenna and cable; null where that is not known. */
  readonly lawfulDbm: number | null
  readonly verdict: FixedVerdict
  /** It can go no lower, and that is more than is lawful. */
  readonly isTooStrong: boolean
}

/** Units are set by whole dB. */
const wholeDown = (dbm: number): number => Math.floor(dbm + 1e-9)

export function sendingPower(
  { bridge, mhz }: BridgeFacts,
  end: EndFacts,
  { country }: Pick<SitePlan['site'], 'country'>,
): SendingPower {
  const { set, unit, antenna } = end
  const verdict = fixedLawOf(
    country,
    end.mhz ?? mhz,
    set.widthMhz,
    antenna.gainDbi,
    bridge.licensedDbm,
  )
  const toEirp = antenna.gainDbi - set.cableDb
  const lawfulDbm = verdict.ok ? wholeDown(verdict.limitDbm - toEirp) : null
  const solved = Math.min(unit.mostPowerDbm, lawfulDbm ?? unit.mostPowerDbm)
  const powerDbm = set.powerDbm ?? Math.max(unit.leastPowerDbm, solved)
  return {
    powerDbm,
    eirpDbm: powerDbm + toEirp,
    lawfulDbm,
    verdict,
    isTooStrong: lawfulDbm !== null && unit.leastPowerDbm > lawfulDbm,
  }
}
