/** Segments without a subnet: ones that can be placed, and ones that the space does not hold. */
import {
  formatPrefix,
  freeBlocks,
  overlaps,
  parsePrefix,
  pickSpace,
  prefix,
} from '../../addressing'
import { allocationsFor, editCall, foreignPrefixes, runEdits } from '../../plan'
import type { SiteModel } from '../../topology'
import { defineRule, type Fix } from '../../findings/rule'
import { listWords } from '../../words'

/** More space beside what the site has, where nothing else is. */
function moreSpace(model: SiteModel, segmentIds: readonly string[]): Fix[] {
  const { plan } = model
  const spaces = plan.site.addressSpace.map(prefix)
  const placed = model.segments.flatMap((s) => (s.subnet ? (parsePrefix(s.subnet) ?? []) : []))
  const picked = pickSpace([...foreignPrefixes(plan), ...placed, ...spaces])
  if (!picked || spaces.some((s) => overlaps(s, picked))) return []
  const more = formatPrefix(picked)
  const edits = [
    editCall('setAddressSpace', { addressSpace: [...plan.site.addressSpace, more] }),
    editCall('allocateSegments', { segmentIds: [...segmentIds] }),
  ]
  return runEdits(plan, '', edits).ok
    ? [{ label: `Take ${more} as well, and place them`, edits }]
    : []
}

export default defineRule({
  id: 'addressing/not-placed',
  severity: 'caution',
  catches: ['C-11'],
  title: 'Segments without a subnet',
  sheet: 'addresses',
  reads: ['site', 'segments', 'devices', 'profiles', 'uplinks', 'knownNetworks'],
  *check(model) {
    const { plan } = model
    const waiting = model.segments.filter((s) => !s.subnet)
    if (waiting.length === 0) return
    const ids = waiting.map((s) => s.id)
    const { unplaced } = allocationsFor(plan, ids)
    const out = waiting.filter((s) => unplaced.some((u) => u.id === s.id))
    const taken = model.segments.flatMap((s) => (s.subnet ? (parsePrefix(s.subnet) ?? []) : []))
    const [largest] = freeBlocks(plan.site.addressSpace.map(prefix), [
      ...taken,
      ...foreignPrefixes(plan),
    ]).sort((a, b) => a.length - b.length)
    if (out.length > 0)
      yield {
        key: 'no room',
        severity: 'blocker',
        subjects: out.map((s) => s.id),
        text:
          `The address space ${listWords(plan.site.addressSpace)} has no room for ` +
          `${listWords(out.map((s) => s.name))}.`,
        why: 'Without a subnet nobody in them gets an address.',
        numbers: [
          {
            label: 'hosts that have no room',
            value: String(out.reduce((n, s) => n + s.expectedHosts, 0)),
            how: 'expected at the busiest time, without growth',
          },
          {
            label: 'largest free block',
            value: largest ? `/${largest.length} at ${formatPrefix(largest)}` : 'none',
          },
        ],
        fixes: moreSpace(model, ids),
      }
    else
      yield {
        key: 'waiting',
        subjects: ids,
        text:
          `${listWords(waiting.map((s) => s.name))} ${waiting.length === 1 ? 'has' : 'have'} ` +
          'no subnet yet.',
        why: 'Nothing can be configured of them before they have one.',
        fixes: [
          {
            label: waiting.length === 1 ? 'Place it' : 'Place them',
            edits: [editCall('allocateSegments', { segmentIds: ids })],
          },
        ],
      }
  },
})
