/**
 * C-11: a pool too small for how clients come and go and for the time a lease holds, with the lease
 * that would fit.
 */
import {
  busyHours,
  erlangB,
  exhaustedAt,
  heldSeconds,
  leaseThatFits,
  littleMean,
  occupancyOverDay,
  parsePrefix,
  peakOccupancy,
  poolFor,
  spanSize,
  usableHosts,
} from '../../addressing'
import { allocationsFor, editCall, runEdits, type Segment } from '../../plan'
import { defineRule, type Fix, type FindingNumber } from '../../findings/rule'
import { chosenDuration } from '../../words'

const clock = (hour: number): string =>
  `${String(Math.floor(hour)).padStart(2, '0')}:${String(Math.round((hour % 1) * 60) % 60).padStart(2, '0')}`
export const poolSize = (s: Segment): number =>
  s.pools.reduce((n, p) => n + Math.max(0, spanSize(p)), 0)

export default defineRule({
  id: 'addressing/pool-too-small',
  severity: 'blocker',
  catches: ['C-11'],
  title: 'The pool runs out of leases',
  sheet: 'addresses',
  reads: ['site', 'segments', 'devices', 'uplinks', 'knownNetworks'],
  *check(model) {
    for (const s of model.segments) {
      if (s.dhcp.mode !== 'server' || !s.subnet || s.pools.length === 0) continue
      const size = poolSize(s)
      if (size < s.expectedHosts) {
        // Where it could lie is looked for only once it is too small: it is the dear part.
        const larger: Fix[] =
          allocationsFor(model.plan, [s.id]).unplaced.length === 0
            ? [
                {
                  label: `Plan ${s.name} again for its hosts`,
                  edits: [editCall('allocateSegments', { segmentIds: [s.id] })],
                },
              ]
            : []
        yield {
          subjects: [s.id],
          text:
            `The ${s.pools.length > 1 ? 'pools' : 'pool'} of ${s.name} ` +
            `${s.pools.length > 1 ? 'hold' : 'holds'} ${size} addresses; ${s.expectedHosts} ` +
            'hosts are expected at the busiest time.',
          why: 'Whoever comes after the last free lease has no network.',
          numbers: [
            { label: 'pool', value: String(size) },
            { label: 'subnet', value: `${usableHosts(parsePrefix(s.subnet)!)} usable` },
          ],
          fixes: larger,
        }
        continue
      }
      if (!s.churn) continue
      const needed = poolFor(s.churn, s.leaseSeconds)
      if (needed <= size) continue
      const peak = peakOccupancy(s.churn, s.leaseSeconds)
      const full = exhaustedAt(s.churn, s.leaseSeconds, size)
      const always = occupancyOverDay(s.churn, s.leaseSeconds).every((p) => p.mean > size)
      const fitting = leaseThatFits(s.churn, size)
      const held = heldSeconds(s.churn.heldMinutes * 60, s.leaseSeconds)
      const numbers: FindingNumber[] = [
        {
          label: 'an address is held',
          value: chosenDuration(held),
          how:
            `stay of ${chosenDuration(s.churn.heldMinutes * 60)}, renewed at half of the lease of ` +
            `${chosenDuration(s.leaseSeconds)}, and one lease after the last renewal (RFC 2131 4.4.5)`,
        },
        {
          label: 'held at the peak',
          value: `${Math.round(peak)}`,
          how:
            `${s.churn.arrivalsPerHour} arrivals an hour over ${busyHours(s.churn)} h, each ` +
            `held ${chosenDuration(held)} (Little: L = lambda W)`,
        },
        {
          label: 'needed',
          value: `${needed}`,
          how: 'exceeded at the peak on one day of a thousand (Poisson)',
        },
        { label: 'pool', value: String(size) },
      ]
      if (busyHours(s.churn) === 24)
        numbers.push({
          label: 'turned away',
          value: `${(erlangB(littleMean(s.churn.arrivalsPerHour, held / 3600), size) * 100).toFixed(1)} %`,
          how: 'Erlang B',
        })
      const room = [
        editCall('changeSegment', {
          id: s.id,
          changes: {
            expectedHosts: Math.max(
              s.expectedHosts,
              Math.ceil(needed / (1 + s.growthPercent / 100)),
            ),
            alignLength: null,
          },
        }),
        editCall('allocateSegments', { segmentIds: [s.id] }),
      ]
      yield {
        severity: peak > size ? 'blocker' : 'caution',
        subjects: [s.id],
        text:
          `${s.name} needs ${needed} addresses with a lease of ${chosenDuration(s.leaseSeconds)}, and ` +
          'its pool has ' +
          `${size}${always ? '; it is full all day' : full === null ? '' : `; it is full at ${clock(full)}`}.` +
          (fitting === undefined ? ' No usual lease fits.' : ''),
        why: 'Guests who left still hold their addresses until their lease is over, and those who come find none.',
        numbers,
        fixes: [
          ...(fitting === undefined
            ? []
            : [
                {
                  label: `Set the lease to ${chosenDuration(fitting)}`,
                  edits: [
                    editCall('changeSegment', { id: s.id, changes: { leaseSeconds: fitting } }),
                  ],
                },
              ]),
          ...(runEdits(model.plan, '', room).ok
            ? [{ label: `Make room for ${needed}`, edits: room }]
            : []),
        ],
      }
    }
  },
})
