/**
 * C-07 and C-54: segments that overlap what stays, a tunnel, or the far end of one; tunnel networks
 * in public space.
 */
import { editCall, freeTunnelNetwork } from '../../plan'
import { classifyPrefix, overlaps, parsePrefix } from '../../addressing'
import { hintOf172 } from './publicSpace'
import { moveToFreeSpace } from '../../findings/relocation'
import { defineRule } from '../../findings/rule'

const words = {
  stays: 'which stays as it is',
  tunnel: "a tunnel's own network",
  joined: 'which a tunnel joins to the site',
} as const

export default defineRule({
  id: 'addressing/known-networks',
  severity: 'blocker',
  catches: ['C-07', 'C-54'],
  title: 'A subnet meets one that is there already',
  sheet: 'addresses',
  reads: ['site', 'segments', 'devices', 'profiles', 'uplinks', 'knownNetworks'],
  *check(model) {
    const known = Object.values(model.plan.knownNetworks).flatMap((n) => {
      const p = parsePrefix(n.prefix)
      return p ? [{ n, p }] : []
    })
    for (const s of model.segments) {
      const own = s.subnet ? parsePrefix(s.subnet) : undefined
      if (!own) continue
      for (const { n, p } of known)
        if (overlaps(own, p))
          yield {
            subjects: [s.id, n.id],
            text: `${s.name} ${s.subnet} overlaps ${n.name} ${n.prefix}, ${words[n.kind]}.`,
            why:
              n.kind === 'joined'
                ? 'With the same numbers at both ends no route can lead to the other one.'
                : 'One address would belong to two places.',
            numbers: [
              { label: 'ours', value: s.subnet! },
              { label: n.name, value: n.prefix },
            ],
            fixes: moveToFreeSpace(model, s),
          }
    }
    for (const u of Object.values(model.plan.uplinks)) {
      const theirs =
        u.handOff.providerLan && u.handOff.providerLan !== 'none'
          ? parsePrefix(u.handOff.providerLan)
          : undefined
      for (const { n, p } of known)
        if (theirs && n.kind !== 'stays' && overlaps(theirs, p))
          yield {
            severity: 'caution',
            subjects: [n.id, u.id],
            text:
              `${n.name} ${n.prefix} overlaps ${u.handOff.providerLan}, the LAN of the ` +
              `provider's router on ${u.name}.`,
            why:
              "Packets for the far end of the tunnel stay at the provider's router next door, " +
              'where the address exists as well.',
            numbers: [
              { label: n.name, value: n.prefix },
              { label: u.name, value: u.handOff.providerLan! },
            ],
            fixes: [
              {
                label: `Leave ${n.name} out`,
                edits: [editCall('removeKnownNetwork', { id: n.id })],
              },
            ],
          }
    }
    for (const [i, a] of known.entries()) {
      const entry = classifyPrefix(a.p)
      if (a.n.kind === 'tunnel' && entry.kind !== 'private') {
        const free = freeTunnelNetwork(model.plan, null)
        yield {
          key: `public:${a.n.id}`,
          title: 'A tunnel network lies outside private space',
          subjects: [a.n.id],
          text:
            `${a.n.name} ${a.n.prefix} is ${entry.name}, not private space (${entry.source}).` +
            hintOf172(a.n.prefix),
          why: 'Whoever really has these addresses cannot be reached while the tunnel is up.',
          fixes: free
            ? [
                {
                  label: `Use ${free}`,
                  edits: [
                    editCall('changeKnownNetwork', { id: a.n.id, changes: { prefix: free } }),
                  ],
                },
              ]
            : [],
        }
      }
      for (const b of known.slice(i + 1))
        if (overlaps(a.p, b.p) && (a.n.kind !== 'stays' || b.n.kind !== 'stays'))
          yield {
            severity: 'caution',
            subjects: [a.n.id, b.n.id],
            text: `${a.n.name} ${a.n.prefix} and ${b.n.name} ${b.n.prefix} overlap.`,
            why: 'From here only one of them can be reached.',
            fixes: [
              {
                label: `Leave ${b.n.name} out`,
                edits: [editCall('removeKnownNetwork', { id: b.n.id })],
              },
            ],
          }
    }
  },
})
