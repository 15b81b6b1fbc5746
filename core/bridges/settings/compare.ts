/** Both ends next to each other: what has to be the same, what the opposite. */
import type { BridgeFacts } from '../facts'
import type { SitePlan } from '../../plan'
import { distanceWords, leastDistance } from './distance'

export interface Compared {
  readonly id:
    'channel' | 'width' | 'role' | 'polarisation' | 'key' | 'distance' | 'country' | 'firmware'
  readonly label: string
  readonly a: string
  readonly b: string
  /** Null where it fits. */
  readonly problem: string | null
  /** Nothing passes as long as it is so. */
  readonly stops: boolean
}

/** A setting of two that have to be alike. */
const alike = (a: string, b: string, problem: string): string | null => (a === b ? null : problem)

export function compareEnds(
  { a, b, way }: BridgeFacts,
  { country }: Pick<SitePlan['site'], 'country'>,
): Compared[] {
  const channel = (e: typeof a): string =>
    e.set.channel === null ? 'not set' : `${e.set.channel} (${e.mhz} MHz)`
  const role = (e: typeof a): string => e.set.role ?? 'not set'
  const firmware = (e: typeof a): string => e.device.firmware ?? 'not read'
  const distance = (e: typeof a): string =>
    leastDistance(e.unit, way.metres) === null
      ? 'by itself'
      : e.set.distance === null
        ? 'automatic'
        : distanceWords(e.unit, e.set.distance)
  const tooShort = [a, b].filter((e) => {
    const least = leastDistance(e.unit, way.metres)
    return least !== null && e.set.distance !== null && e.set.distance < least
  })
  const isMixed =
    a.set.polarisation !== b.set.polarisation &&
    a.set.polarisation !== 'both' &&
    b.set.polarisation !== 'both'
  const key = (e: typeof a): string => (e.set.keyRef === '' ? 'none' : 'in the vault')
  return [
    {
      id: 'role',
      label: 'Role',
      a: role(a),
      b: role(b),
      problem:
        a.set.role !== null && a.set.role === b.set.role
          ? `both are set as the ${a.set.role} end`
          : a.set.role === null || b.set.role === null
            ? 'not set yet'
            : null,
      stops: a.set.role !== null && a.set.role === b.set.role,
    },
    {
      id: 'channel',
      label: 'Channel',
      a: channel(a),
      b: channel(b),
      problem:
        a.set.channel === null || b.set.channel === null
          ? 'not set yet'
          : a.mhz === b.mhz
            ? null
            : 'on different channels',
      stops: a.mhz !== null && b.mhz !== null && a.mhz !== b.mhz,
    },
    {
      id: 'width',
      label: 'Width',
      a: `${a.set.widthMhz} MHz`,
      b: `${b.set.widthMhz} MHz`,
      problem: a.set.widthMhz === b.set.widthMhz ? null : 'of different widths',
      stops: a.set.widthMhz !== b.set.widthMhz,
    },
    {
      id: 'polarisation',
      label: 'Polarisation',
      a: a.set.polarisation,
      b: b.set.polarisation,
      problem: isMixed ? 'turned against each other' : null,
      stops: false,
    },
    {
      id: 'key',
      label: 'Key',
      a: key(a),
      b: key(b),
      problem:
        a.set.keyRef !== b.set.keyRef
          ? 'with different keys'
          : a.set.keyRef === ''
            ? 'whoever has such a unit can join'
            : null,
      stops: a.set.keyRef !== b.set.keyRef,
    },
    {
      id: 'distance',
      label: 'Distance',
      a: distance(a),
      b: distance(b),
      problem:
        tooShort.length > 0
          ? `too short for ${(way.metres / 1000).toFixed(2)} km: ` +
            `${distanceWords(a.unit, leastDistance(tooShort[0]!.unit, way.metres)!)} at the least`
          : null,
      stops: false,
    },
    {
      id: 'country',
      label: 'Country',
      a: a.set.country ?? 'not told',
      b: b.set.country ?? 'not told',
      problem:
        a.set.country === country && b.set.country === country ? null : `${country} is where it is`,
      stops: false,
    },
    {
      id: 'firmware',
      label: 'Firmware',
      a: firmware(a),
      b: firmware(b),
      problem: alike(firmware(a), firmware(b), 'of different versions'),
      stops: false,
    },
  ]
}
