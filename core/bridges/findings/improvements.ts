/** What could be set otherwise for a bridge to carry more or to hold longer, each tried before it is offered. */
import { editCall, type Bridge, type BridgeEnd } from '../../plan'
import type { Fix } from '../../findings/rule'
import type { SiteModel } from '../../topology'
import { AS_MEASURED, isReckoned, reckon, type Reckoned } from '../reckoned'

/** At the most so many are offered. */
const MOST = 3

export function improvements(
  model: SiteModel,
  r: Reckoned,
  isGood: (after: Reckoned) => boolean,
): Fix[] {
  const { a, b } = r.bridge
  const { facts } = r.budget
  const both = (changes: Partial<BridgeEnd>): Partial<Bridge> => ({
    a: { ...a, ...changes },
    b: { ...b, ...changes },
  })
  const tries: { label: string; changes: Partial<Bridge> }[] = []
  if (a.powerDbm !== null || b.powerDbm !== null)
    tries.push({
      label: 'Send with all that is lawful at both ends',
      changes: both({ powerDbm: null }),
    })
  for (const widthMhz of [...facts.a.unit.widthsMhz].sort((x, y) => y - x))
    if (widthMhz !== a.widthMhz && facts.b.unit.widthsMhz.includes(widthMhz))
      tries.push({
        label: `Set both ends to ${widthMhz} MHz`,
        changes: both({ widthMhz, powerDbm: null }),
      })
  const seen = new Set<number>()
  for (const c of facts.a.unit.channels) {
    // One of each stretch of spectrum with rules of its own is enough.
    const stretch = Math.round(c.mhz / 150)
    if (c.number === a.channel || seen.has(stretch)) continue
    if (!facts.b.unit.channels.some((x) => x.number === c.number)) continue
    seen.add(stretch)
    tries.push({
      label: `Set both ends to channel ${c.number}, ${c.mhz} MHz`,
      changes: both({ channel: c.number, powerDbm: null }),
    })
  }
  return tries
    .filter(({ changes }) => {
      const after = reckon(model, { ...r.bridge, ...changes }, AS_MEASURED)
      return (
        isReckoned(after) &&
        after.budget.toB.sending.verdict.ok &&
        after.budget.toA.sending.verdict.ok &&
        isGood(after)
      )
    })
    .slice(0, MOST)
    .map(({ label, changes }) => ({
      label,
      edits: [editCall('changeBridge', { id: r.bridge.id, changes })],
    }))
}
