/** C-44, C-48, C-61: both ends compared. */
import { editCall, type Bridge, type BridgeEnd } from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'
import { compareEnds, type Compared } from '../settings/compare'
import { leastDistance } from '../settings/distance'
import { knownBridges, type Reckoned } from '../reckoned'
import { CARRIES } from './reads'

const catchOf: Readonly<Partial<Record<Compared['id'], string>>> = {
  channel: 'C-44',
  width: 'C-44',
  role: 'C-44',
  key: 'C-44',
  polarisation: 'C-46',
  distance: 'C-48',
  country: 'C-35',
}

function fixesOf(r: Reckoned, c: Compared): Fix[] {
  const { facts } = r.budget
  const { a, b } = r.bridge
  const fix = (label: string, changes: Partial<Bridge>): Fix => ({
    label,
    edits: [editCall('changeBridge', { id: r.bridge.id, changes })],
  })
  const asOther = (field: keyof BridgeEnd, words: (e: BridgeEnd) => string): Fix[] =>
    (['b', 'a'] as const).flatMap((end) => {
      const from = end === 'a' ? b : a
      return from[field] === null
        ? []
        : [
            fix(`Set ${facts[end].device.name} to ${words(from)}`, {
              [end]: { ...r.bridge[end], [field]: from[field] },
            }),
          ]
    })
  switch (c.id) {
    case 'channel':
      // A number stands for one frequency only where both units count alike.
      return asOther('channel', (e) => `channel ${e.channel}`).filter((_, n) => {
        const [to, from] = n === 0 ? [facts.b, facts.a] : [facts.a, facts.b]
        return to.unit.channels.some((x) => x.number === from.set.channel && x.mhz === from.mhz)
      })
    case 'width':
      return asOther('widthMhz', (e) => `${e.widthMhz} MHz`)
    case 'polarisation':
      return asOther('polarisation', (e) => e.polarisation)
    case 'role': {
      const turned = (of: BridgeEnd['role']): BridgeEnd['role'] => (of === 'far' ? 'main' : 'far')
      return [
        fix(`Set ${facts.b.device.name} as the ${turned(a.role)} end`, {
          a: { ...a, role: a.role ?? 'main' },
          b: { ...b, role: turned(a.role) },
        }),
      ]
    }
    case 'key':
      return a.keyRef !== b.keyRef ? asOther('keyRef', () => 'the same key').slice(0, 1) : []
    case 'distance': {
      const set = (e: BridgeEnd, least: number | null): BridgeEnd => ({
        ...e,
        distance: e.distance !== null && least !== null ? Math.max(e.distance, least) : e.distance,
      })
      const metres = facts.way.metres
      return [
        fix('Set the distance at both ends for this path', {
          a: set(a, leastDistance(facts.a.unit, metres)),
          b: set(b, leastDistance(facts.b.unit, metres)),
        }),
      ]
    }
    default:
      return []
  }
}

export default defineRule({
  id: 'bridges/ends-differ',
  severity: 'caution',
  catches: ['C-44', 'C-48'],
  title: 'The two ends do not fit together',
  sheet: 'bridges',
  reads: CARRIES,
  *check(model) {
    const { site } = model.plan
    for (const r of knownBridges(model)) {
      const { facts } = r.budget
      const isByHand = [facts.a, facts.b].some((e) => e.unit.setting === 'hand')
      for (const c of compareEnds(facts, site)) {
        if (c.problem === null) continue
        const caught = catchOf[c.id]
        const numbers = [
          { label: facts.a.device.name, value: c.a },
          { label: facts.b.device.name, value: c.b },
        ]
        const isUnset =
          c.id === 'key' ? r.bridge.a.keyRef === r.bridge.b.keyRef : c.problem === 'not set yet'
        if (c.id === 'country')
          yield {
            key: `country:${r.bridge.id}`,
            catches: isByHand ? ['C-61', 'C-35'] : ['C-35'],
            subjects: [r.bridge.id],
            title: 'A unit was not told its country',
            text:
              `${r.bridge.name}: ${facts.a.device.name} is told ` +
              `${r.bridge.a.country ?? 'no country'}, ${facts.b.device.name} ` +
              `${r.bridge.b.country ?? 'none'}; ${c.problem}.`,
            why: isByHand
              ? 'Set by its buttons it has no country and no password yet: plan the visit with the laptop.'
              : 'Untold, a unit keeps to no limit, or to that of another country.',
            numbers,
            fixes: [
              {
                label: `Tell both units ${site.country}`,
                edits: [
                  editCall('changeBridge', {
                    id: r.bridge.id,
                    changes: {
                      a: { ...r.bridge.a, country: site.country },
                      b: { ...r.bridge.b, country: site.country },
                    },
                  }),
                ],
              },
            ],
          }
        else
          yield {
            key: `${c.id}:${r.bridge.id}`,
            severity: c.stops ? 'blocker' : c.id === 'firmware' || isUnset ? 'note' : 'caution',
            catches: caught === undefined ? [] : c.id === 'key' && isUnset ? ['C-61'] : [caught],
            subjects: [r.bridge.id],
            title: `${c.label} of the two ends`,
            text:
              `${r.bridge.name}: ${c.label.toLowerCase()} ` +
              `${isUnset && c.id !== 'key' ? c.problem : `${c.a} and ${c.b}: ${c.problem}`}.`,
            why: c.stops
              ? 'They do not pair, and nothing passes.'
              : c.id === 'distance'
                ? 'Acknowledgements come too late: frames are sent again and again, and most of the speed is lost.'
                : c.id === 'key'
                  ? 'The key is set with the laptop; until then the pair is open.'
                  : 'See to it before they are mounted.',
            numbers,
            fixes: fixesOf(r, c),
          }
      }
    }
  },
})
