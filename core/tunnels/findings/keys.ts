/** Keys that are not there yet, so that nothing comes up. */
import { peersOf } from '../../plan'
import { defineRule } from '../../findings/rule'
import { listWords } from '../../words'

/** More are counted, not named. */
const MOST_NAMED = 3

export default defineRule({
  id: 'tunnels/keys',
  severity: 'note',
  catches: [],
  title: 'Keys that are missing',
  sheet: 'tunnels',
  reads: ['tunnels', 'peers'],
  *check({ plan }) {
    for (const t of Object.values(plan.tunnels)) {
      if (!t.isActive) continue
      if (t.protocol === 'ikev2') {
        for (const p of peersOf(plan, t.id))
          if (!p.sharedKeyRef)
            yield {
              key: `shared:${p.id}`,
              subjects: [p.id, t.id],
              text: `${t.name} and ${p.name} share no key yet.`,
              why: 'Have one made here, and give it to the people there by another way than the other values.',
            }
        continue
      }
      const open = peersOf(plan, t.id).filter((p) => p.publicKey === null)
      if (t.publicKey === null)
        yield {
          key: `own:${t.id}`,
          subjects: [t.id],
          text: `${t.name} has no key yet.`,
          why: 'Have it made here and kept sealed, or on the device: then type its public half.',
        }
      if (open.length > 0)
        yield {
          key: `peers:${t.id}`,
          subjects: [t.id, ...open.map((p) => p.id)],
          text:
            (open.length <= MOST_NAMED
              ? listWords(open.map((p) => p.name))
              : `${open.length} peers`) +
            ` of ${t.name} ${open.length === 1 ? 'has' : 'have'} no key yet.`,
          why: 'Nobody comes in without one of their own.',
        }
    }
  },
})
