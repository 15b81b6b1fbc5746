/**
 * The fix that moves a segment to free private space, in the site's own space where there is room,
 * else in another that collides with nothing.
 */
import { formatPrefix, isPrivate, overlaps, parsePrefix, pickSpace, prefix } from '../addressing'
import { editCall, allocationsFor, foreignPrefixes, type EditCall, type Segment } from '../plan'
import type { SiteModel } from '../topology'
import type { Fix } from './rule'

export function moveToFreeSpace(model: SiteModel, segment: Segment): Fix[] {
  const { plan } = model
  const place: EditCall = editCall('allocateSegments', { segmentIds: [segment.id] })
  const isGood = plan.site.addressSpace.every((s) => isPrivate(prefix(s)))
  if (isGood && allocationsFor(plan, [segment.id]).unplaced.length === 0)
    return [{ label: `Move ${segment.name} to free space`, edits: [place] }]
  const others = model.segments.flatMap((s) =>
    s.subnet && s.id !== segment.id ? (parsePrefix(s.subnet) ?? []) : [],
  )
  const spaces = plan.site.addressSpace.map(prefix)
  const picked = pickSpace([...foreignPrefixes(plan), ...others, ...spaces])
  if (!picked || spaces.some((s) => overlaps(s, picked))) return []
  const space = formatPrefix(picked)
  return [
    {
      label: `Move ${segment.name} to free space in ${space}`,
      edits: [editCall('setAddressSpace', { addressSpace: [space] }), place],
    },
  ]
}
