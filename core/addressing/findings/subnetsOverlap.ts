/**
 * C-07: subnets that overlap within the site, or that will be met with the same numbers on
 * factory-new equipment or at the hand-off.
 */
import { overlaps, parsePrefix, prefix } from '../../addressing'
import { networkOf } from '../../plan'
import { moveToFreeSpace } from '../../findings/relocation'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'addressing/subnets-overlap',
  severity: 'blocker',
  catches: ['C-07'],
  title: 'Two subnets overlap',
  sheet: 'addresses',
  reads: ['site', 'segments', 'devices', 'profiles', 'uplinks', 'knownNetworks'],
  *check(model) {
    const placed = model.segments.flatMap((s) => {
      const p = s.subnet ? parsePrefix(s.subnet) : undefined
      return p ? [{ s, p }] : []
    })
    for (const [i, a] of placed.entries())
      for (const b of placed.slice(i + 1))
        if (overlaps(a.p, b.p))
          yield {
            subjects: [b.s.id, a.s.id],
            text: `${a.s.name} ${a.s.subnet} and ${b.s.name} ${b.s.subnet} overlap.`,
            why:
              'An address in both belongs to neither: the gateway picks one and the other ' +
              'segment loses its traffic.',
            fixes: [...moveToFreeSpace(model, b.s), ...moveToFreeSpace(model, a.s)],
          }
    const networks = new Map(
      Object.values(model.plan.profiles).flatMap((p) =>
        p.factory.address ? [[p.id, networkOf(p.factory.address)] as const] : [],
      ),
    )
    const byFactory = new Map<string, string[]>()
    for (const d of model.devices) {
      const factory = networks.get(d.profileId)
      const names = factory && byFactory.get(factory)
      if (names) names.push(d.name)
      else if (factory) byFactory.set(factory, [d.name])
    }
    const met = [...byFactory].map(([factory, names]) => ({
      factory,
      network: prefix(factory),
      names,
    }))
    for (const { s, p } of placed) {
      for (const u of Object.values(model.plan.uplinks)) {
        const line = u.handOff.address ? networkOf(u.handOff.address) : undefined
        if (line && overlaps(prefix(line), p))
          yield {
            subjects: [s.id, u.id],
            text: `${s.name} ${s.subnet} overlaps the hand-off of ${u.name}, ${line}.`,
            why: 'The gateway would have the same network on the line and inside.',
            fixes: moveToFreeSpace(model, s),
          }
      }
      for (const { factory, network, names } of met) {
        if (!overlaps(network, p)) continue
        yield {
          severity: 'caution',
          subjects: [s.id],
          text:
            `${s.name} ${s.subnet} overlaps ${factory}, on which ${names.join(', ')} ` +
            `${names.length === 1 ? 'comes' : 'come'} from the factory.`,
          why:
            'During bring-up a new device answers with an address that is in use, and after a ' +
            'reset it does so again.',
          fixes: moveToFreeSpace(model, s),
        }
      }
    }
  },
})
