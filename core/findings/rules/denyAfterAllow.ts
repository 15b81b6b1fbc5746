/** C-50: a denial placed after the allowance that wins. */
import { isWithin, placeName, type Intent } from '../../plan'

import { defineRule } from '../rule'

export default defineRule({
  id: 'policy/deny-after-allow',
  severity: 'caution',
  catches: ['C-50'],
  title: 'A denial comes too late to take effect',
  sheet: 'policy',
  reads: ['segments', 'services', 'intents'],
  *check(model) {
    const { services, intents } = model.plan
    const ordered = Object.values(intents).sort((a, b) => a.rank - b.rank || (a.id < b.id ? -1 : 1))
    const covers = (wide: Intent, narrow: Intent): boolean => {
      if (wide.from !== narrow.from || wide.to !== narrow.to) return false
      if (wide.service === 'any' || wide.service === narrow.service) return true
      if (narrow.service === 'any') return false
      const [w, n] = [services[wide.service]!, services[narrow.service]!]
      return w.protocol === n.protocol && isWithin(n.ports, w.ports)
    }
    const word = (i: Intent): string => (i.service === 'any' ? 'everything' : services[i.service]!.name)
    for (const [at, deny] of ordered.entries()) {
      if (deny.action !== 'deny') continue
      const winner = ordered.slice(0, at).find((i) => covers(i, deny))
      if (winner?.action !== 'allow') continue
      const pair = `${placeName(model.plan, deny.from)} to ${placeName(model.plan, deny.to)}`
      const first = winner.rank > 0 ? [{ name: 'changeIntent', args: { id: deny.id, changes: { rank: winner.rank - 1 } } }]
        : [{ name: 'changeIntent', args: { id: winner.id, changes: { rank: 1 } } }, { name: 'changeIntent', args: { id: deny.id, changes: { rank: 0 } } }]
      yield {
        subjects: [deny.id, winner.id, deny.from, deny.to], text: `From ${pair} ${word(deny)} is denied, but ${word(winner)} is allowed before that.`,
        why: 'The first rule that matches decides; the denial is never reached.',
        numbers: [{ label: 'rank of the allowance', value: String(winner.rank) }, { label: 'rank of the denial', value: String(deny.rank), how: 'lower is looked at first' }],
        fixes: [{ label: `Put the denial of ${word(deny)} first`, edits: first }, { label: 'Take the denial out', edits: [{ name: 'removeIntent', args: { id: deny.id } }] }],
      }
    }
  },
})
