/** C-12: a VLAN id, address, hardware address, name or serial that stands twice. */
import {
  firstFreeVlan,
  inPlan,
  editCall,
  type EditCall,
  type Device,
  type Segment,
} from '../../plan'
import { defineRule, type FindingBody, type Fix } from '../../findings/rule'
import { firstFree } from '../../topology/freeAddress'
import { listWords, togetherWords } from '../../words'

function twice<T>(items: readonly T[], key: (item: T) => string | null): T[][] {
  const groups = new Map<string, T[]>()
  for (const item of items) {
    const k = key(item)
    if (k !== null) groups.set(k, [...(groups.get(k) ?? []), item])
  }
  return [...groups.values()].filter((g) => g.length > 1)
}
const names = (items: readonly { name: string }[]): string => listWords(items.map((i) => i.name))

export default defineRule({
  id: 'plan/duplicates',
  severity: 'blocker',
  catches: ['C-12'],
  title: 'Something that must be unique stands twice',
  sheet: 'survey',
  reads: ['segments', 'devices', 'profiles'],
  *check(model) {
    const { plan, devices, segments } = model
    for (const group of twice<Segment>(segments, (s) => String(s.vlanId))) {
      const second = group[1]!
      const free = firstFreeVlan(second.purpose, new Set(segments.map((o) => o.vlanId)))
      yield {
        key: `VLAN ${second.vlanId}`,
        subjects: group.map((s) => s.id),
        text: `${togetherWords(group.map((s) => s.name))} have VLAN ${second.vlanId}.`,
        why: 'On the wire they are one segment, whatever the rules say.',
        fixes:
          free === null
            ? []
            : [
                {
                  label: `Give ${second.name} VLAN ${free}`,
                  edits: [editCall('changeSegment', { id: second.id, changes: { vlanId: free } })],
                },
              ],
      }
    }
    for (const group of twice<Segment>(segments, (s) => s.name.toLowerCase()))
      yield again(
        group,
        'name',
        group[0]!.name,
        rename(
          (id, name) => editCall('changeSegment', { id, changes: { name } }),
          group[1]!,
          namesOf(segments),
        ),
      )
    for (const group of twice<Device>(devices, (d) => d.name.toLowerCase()))
      yield again(
        group,
        'name',
        group[0]!.name,
        rename(
          (id, name) => editCall('changeDevice', { id, changes: { name } }),
          group[1]!,
          namesOf(devices),
        ),
      )
    for (const group of twice<Device>(devices, (d) => d.serial))
      yield again(group, 'serial', group[0]!.serial!, clear(group[1]!, 'serial'))
    for (const group of twice<Device>(devices, (d) => d.hardwareAddress))
      yield again(
        group,
        'hardware address',
        group[0]!.hardwareAddress!,
        clear(group[1]!, 'hardwareAddress'),
      )
    for (const group of twice<Device>(devices, (d) =>
      d.addressing.mode === 'automatic' ? null : d.addressing.address,
    )) {
      const second = group[1]!
      const segment = second.addressing.segmentId
        ? inPlan(plan.segments, second.addressing.segmentId)
        : undefined
      const free = segment && firstFree(plan.devices, second.id, segment)
      yield again(
        group,
        'address',
        second.addressing.address!,
        free
          ? [
              {
                label: `Give ${second.name} ${free}`,
                edits: [
                  editCall('changeDevice', {
                    id: second.id,
                    changes: { addressing: { ...second.addressing, address: free } },
                  }),
                ],
              },
            ]
          : [],
      )
    }
  },
})

const whyOf: Record<string, string> = {
  name: 'Nobody can tell on the day which one is meant.',
  serial: 'Only one of them can be claimed; one serial was probably mistyped.',
  'hardware address': 'A reservation for it would fit either; one was probably mistyped.',
  address: 'Both would answer, by turns.',
}
const again = (
  group: readonly { id: string; name: string }[],
  what: string,
  value: string,
  fixes: Fix[],
): FindingBody => ({
  key: `${what} ${value.toLowerCase()}`,
  subjects: group.map((g) => g.id),
  text: `${names(group)} have the same ${what}, ${value}.`,
  why: whyOf[what]!,
  fixes,
})
const namesOf = (items: readonly { name: string }[]): ReadonlySet<string> =>
  new Set(items.map((i) => i.name.toLowerCase()))
const LONGEST_NAME = 80
/** The same name with the next number that nothing has yet; cut where it would be too long. */
function nextName(name: string, taken: ReadonlySet<string>): string {
  for (let n = 2; ; n++) {
    const next = `${name.slice(0, LONGEST_NAME - ` ${n}`.length)} ${n}`
    if (!taken.has(next.toLowerCase())) return next
  }
}
const rename = (
  call: (id: string, name: string) => EditCall,
  second: { id: string; name: string },
  taken: ReadonlySet<string>,
): Fix[] => [
  {
    label: `Call the second ${nextName(second.name, taken)}`,
    edits: [call(second.id, nextName(second.name, taken))],
  },
]
const clear = (second: Device, field: 'serial' | 'hardwareAddress'): Fix[] => [
  {
    label: `Clear it on ${second.name} until it is read again`,
    edits: [editCall('changeDevice', { id: second.id, changes: { [field]: null } })],
  },
]
