/** C-10: a pool that covers a fixed address or the gateway, or lies outside its subnet. */
import { address, containsAddress, formatAddress, parsePrefix, usableRange } from '../../addressing'
import { defineRule, type Fix } from '../rule'

export default defineRule({
  id: 'addressing/pool-covers-fixed-address',
  severity: 'blocker',
  catches: ['C-10'],
  title: 'The pool hands out an address that is not its to give',
  sheet: 'addresses',
  *check(model) {
    for (const s of model.segments) {
      const subnet = s.subnet ? parsePrefix(s.subnet) : undefined
      if (!subnet || !s.pool) continue
      const first = address(s.pool.first).value
      const last = address(s.pool.last).value
      const text = `${s.pool.first}-${s.pool.last}`
      const usable = usableRange(subnet)
      const taken = new Map<bigint, string>()
      if (s.gateway) taken.set(address(s.gateway).value, 'the gateway')
      for (const d of model.membersOf(s.id)) if (d.addressing.mode === 'fixed' && d.addressing.address) taken.set(address(d.addressing.address).value, d.name)
      const fix = (): Fix[] => {
        const span = longestFree(usable.first, usable.last, [...taken.keys(), ...blockOf(s.fixedBlock)])
        if (!span) return []
        const [from, to] = span.map((value) => formatAddress({ family: 4, value })) as [string, string]
        return [{ label: `Move the pool to ${from}-${to}`, edits: [{ name: 'setPool', args: { segmentId: s.id, first: from, last: to } }] }]
      }
      if (first > last)
        yield { subjects: [s.id], text: `The pool ${text} of ${s.name} ends before it starts.`, why: 'It hands out nothing.', fixes: fix() }
      else if (!containsAddress(subnet, address(s.pool.first)) || !containsAddress(subnet, address(s.pool.last)) || first < usable.first || last > usable.last)
        yield {
          subjects: [s.id], text: `The pool ${text} of ${s.name} reaches outside what hosts may have in ${s.subnet}.`, why: 'A host with such a lease could talk to nobody.',
          numbers: [{ label: 'usable', value: `${formatAddress({ family: 4, value: usable.first })}-${formatAddress({ family: 4, value: usable.last })}` }], fixes: fix(),
        }
      else {
        const covered = [...taken].filter(([v]) => v >= first && v <= last)
        if (covered.length > 0)
          yield {
            subjects: [s.id], text: `The pool ${text} of ${s.name} covers ${covered.map(([v, who]) => `${formatAddress({ family: 4, value: v })} of ${who}`).join(', ')}.`,
            why: 'Sooner or later two devices have the same address, and both work by turns.',
            numbers: [{ label: 'covered', value: `${covered.length} of ${last - first + 1n} addresses` }], fixes: fix(),
          }
      }
    }
  },
})

function* blockOf(block: { first: string; last: string } | null): Generator<bigint> {
  if (block) for (let v = address(block.first).value; v <= address(block.last).value; v++) yield v
}

/** The longest run in a range that holds none of the taken values. */
export function longestFree(first: bigint, last: bigint, taken: Iterable<bigint>): [bigint, bigint] | undefined {
  let best: [bigint, bigint] | undefined
  let from = first
  const sorted = [...new Set(taken)].filter((v) => v >= first && v <= last).sort((a, b) => (a < b ? -1 : 1))
  for (const stop of [...sorted, last + 1n]) {
    if (stop > from && (!best || stop - from > best[1] - best[0] + 1n)) best = [from, stop - 1n]
    from = stop + 1n
  }
  return best
}
