/**
 * What a change of the plan does to people: pairs that gain or lose a service, clients that need
 * another lease, things to do by hand.
 */
import { nameOfId, own, placeName, type SitePlan } from '../plan'
import { isOpen, matrixOf, type MatrixCell } from '../policy'
import { movedCables } from './lockOut'

export interface PairChange {
  readonly from: string
  readonly to: string
  readonly gained: readonly string[]
  readonly lost: readonly string[]
}

export function pairChanges(before: SitePlan, after: SitePlan): PairChange[] {
  const [was, is] = [matrixOf(before), matrixOf(after)]
  if (was === is) return []
  const out: PairChange[] = []
  const name = (plan: SitePlan, id: string): string =>
    own(plan.services, id)?.name ?? own(plan.forwards, id)?.name ?? id
  const seen = new Set<string>()
  const open = (cell: MatrixCell | undefined): Set<string> =>
    new Set([
      ...(cell?.services ?? []).filter(isOpen).map((s) => s.serviceId),
      ...(cell?.forwards ?? []).map((f) => f.id),
    ])
  for (const [plan, matrix] of [
    [after, is],
    [before, was],
  ] as const)
    for (const { from, to } of matrix.cells) {
      const key = `${from} ${to}`
      if (seen.has(key)) continue
      seen.add(key)
      const [a, b] = [open(was.cell(from, to)), open(is.cell(from, to))]
      const gained = [...b].filter((s) => !a.has(s)).map((s) => name(after, s))
      const lost = [...a].filter((s) => !b.has(s)).map((s) => name(before, s))
      if (gained.length + lost.length > 0)
        out.push({ from: placeName(plan, from), to: placeName(plan, to), gained, lost })
    }
  return out
}

export interface LeaseChange {
  readonly segment: string
  readonly why: string
  /** After which every client has asked again by itself, s. */ readonly withinSeconds: number
}

/**
 * A client keeps what it was given until it asks again, at half of its lease (RFC 2131 4.4.5), or
 * is unplugged.
 */
export function leaseChanges(before: SitePlan, after: SitePlan): LeaseChange[] {
  return Object.values(after.segments).flatMap((s): LeaseChange[] => {
    const was = own(before.segments, s.id)
    if (!was || was === s || was.dhcp.mode === 'off') return []
    const why =
      was.subnet !== s.subnet
        ? `its subnet was ${was.subnet ?? 'none'} and becomes ${s.subnet ?? 'none'}`
        : was.gateway !== s.gateway
          ? `its gateway was ${was.gateway ?? 'none'} and becomes ${s.gateway ?? 'none'}`
          : was.options.nameServers.join() !== s.options.nameServers.join()
            ? 'its name servers change'
            : JSON.stringify(was.pools) !== JSON.stringify(s.pools) ||
                JSON.stringify(was.dhcp) !== JSON.stringify(s.dhcp)
              ? 'its pools change'
              : ''
    return why ? [{ segment: s.name, why, withinSeconds: was.leaseSeconds }] : []
  })
}

/** What no document does: cables, and addresses that are typed at the thing itself. */
export function byHand(before: SitePlan, after: SitePlan): string[] {
  const { out, in: into } = movedCables(before, after)
  const end = (plan: SitePlan, portId: string): string => nameOfId(plan, portId)
  const cables = [
    ...out.map((l) => `Take out the cable from ${end(before, l.a)} to ${end(before, l.b)}.`),
    ...into.map((l) => `Put in a cable from ${end(after, l.a)} to ${end(after, l.b)}.`),
  ]
  const addresses = Object.values(after.devices).flatMap((d): string[] => {
    const was = own(before.devices, d.id)
    if (
      !was ||
      after.profiles[d.profileId]!.adoptable ||
      was.addressing === d.addressing ||
      d.addressing.mode !== 'fixed'
    )
      return []
    const [a, b] = [was.addressing.address, d.addressing.address]
    if (a === b || !b) return []
    const isController = d.id === after.controller.hostDeviceId
    return [
      isController
        ? `Give ${d.name} the address ${b} beside ${a ?? 'its own'} before you send: devices ` +
          'ask for the controller there, and go back where nobody answers. Take the old one ' +
          'away afterwards.'
        : `Give ${d.name} the address ${b} instead of ${a ?? 'none'}.`,
    ]
  })
  const port =
    before.controller.port === after.controller.port
      ? []
      : [
          `The controller answers on port ${after.controller.port} instead of ` +
            `${before.controller.port}: have it answer on both before you send, or every ` +
            'device goes back.',
        ]
  return [...cables, ...addresses, ...port]
}
