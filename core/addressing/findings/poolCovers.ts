/**
 * C-10: a pool that covers a fixed address or the gateway, meets another pool, or lies outside its
 * subnet.
 */
import { address, containsAddress, formatAddress, parsePrefix, usableRange } from '../../addressing'
import { editCall, poolsAround } from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'
import { listWords } from '../../words'

const text4 = (value: bigint): string => formatAddress({ family: 4, value })

export default defineRule({
  id: 'addressing/pool-covers-fixed-address',
  severity: 'blocker',
  catches: ['C-10'],
  title: 'The pool hands out an address that is not its to give',
  sheet: 'addresses',
  reads: ['segments', 'devices', 'profiles'],
  *check(model) {
    for (const s of model.segments) {
      const subnet = s.subnet ? parsePrefix(s.subnet) : undefined
      if (!subnet) continue
      const usable = usableRange(subnet)
      const taken = new Map<bigint, string>()
      if (s.gateway) taken.set(address(s.gateway).value, 'the gateway')
      for (const d of model.membersOf(s.id))
        if (d.addressing.mode === 'fixed' && d.addressing.address)
          taken.set(address(d.addressing.address).value, d.name)
      for (const [index, pool] of s.pools.entries()) {
        const first = address(pool.first).value
        const last = address(pool.last).value
        const name = `The pool ${pool.first}-${pool.last} of ${s.name}`
        const others = s.pools.filter((_, i) => i !== index)
        const fix = (): Fix[] => {
          const spans = poolsAround(subnet, [...taken.keys()].map(text4), [
            ...(s.fixedBlock ? [s.fixedBlock] : []),
            ...others,
          ]).sort((a, b) => Number(count(b) - count(a)))
          const missing = BigInt(s.expectedHosts) - others.reduce((n, o) => n + count(o), 0n)
          const enough: typeof spans = []
          for (const span of spans) {
            if (enough.length > 0 && enough.reduce((n, o) => n + count(o), 0n) >= missing) break
            enough.push(span)
          }
          const words = enough
            .sort((a, b) => Number(address(a.first).value - address(b.first).value))
            .map((p) => `${p.first}-${p.last}`)
          return enough.length > 0
            ? [
                {
                  label:
                    enough.length === 1
                      ? `Move the pool to ${words[0]}`
                      : `Split the pool around it: ${listWords(words)}`,
                  edits: [
                    editCall('setPools', {
                      segmentId: s.id,
                      pools: s.pools.toSpliced(index, 1, ...enough),
                    }),
                  ],
                },
              ]
            : [
                {
                  label: 'Do without this pool',
                  edits: [editCall('setPools', { segmentId: s.id, pools: others })],
                },
              ]
        }
        const met = others.find(
          (o) => address(o.first).value <= last && first <= address(o.last).value,
        )
        const covered = [...taken].filter(([v]) => v >= first && v <= last)
        if (first > last)
          yield {
            key: `${s.id}:${pool.first}-${pool.last}`,
            subjects: [s.id],
            text: `${name} ends before it starts.`,
            why: 'It hands out nothing.',
            fixes: fix(),
          }
        else if (
          !containsAddress(subnet, address(pool.first)) ||
          !containsAddress(subnet, address(pool.last)) ||
          first < usable.first ||
          last > usable.last
        )
          yield {
            key: `${s.id}:${pool.first}-${pool.last}`,
            subjects: [s.id],
            text: `${name} reaches outside what hosts may have in ${s.subnet}.`,
            why: 'A host with such a lease could talk to nobody.',
            numbers: [{ label: 'usable', value: `${text4(usable.first)}-${text4(usable.last)}` }],
            fixes: fix(),
          }
        else if (covered.length > 0)
          yield {
            key: `${s.id}:${pool.first}-${pool.last}`,
            subjects: [s.id],
            text: `${name} covers ${covered.map(([v, who]) => `${text4(v)} of ${who}`).join(', ')}.`,
            why: 'Sooner or later two devices have the same address, and both work by turns.',
            numbers: [
              { label: 'covered', value: `${covered.length} of ${last - first + 1n} addresses` },
            ],
            fixes: fix(),
          }
        else if (met && s.pools.indexOf(met) < index)
          yield {
            key: `${s.id}:${pool.first}-${pool.last}`,
            subjects: [s.id],
            text: `${name} meets its pool ${met.first}-${met.last}.`,
            why: 'A DHCP server refuses such a configuration, or hands an address out twice.',
            fixes: fix(),
          }
      }
    }
  },
})

const count = (p: { first: string; last: string }): bigint => {
  const n = address(p.last).value - address(p.first).value + 1n
  return n > 0n ? n : 0n
}
