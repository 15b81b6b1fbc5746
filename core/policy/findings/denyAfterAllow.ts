/**
 * C-50: what is stated too late to take effect, since something that speaks of as much or more is
 * looked at before it and says the opposite.
 */
import {
  editCall,
  ANYWHERE,
  coversHours,
  hoursWords,
  intentsInOrder,
  isWithin,
  own,
  placeCovers,
  placeName,
  type Intent,
} from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'

export default defineRule({
  id: 'policy/deny-after-allow',
  severity: 'caution',
  catches: ['C-50'],
  title: 'A statement comes too late to take effect',
  sheet: 'policy',
  reads: ['segments', 'devices', 'services', 'groups', 'intents'],
  *check(model) {
    const { plan } = model
    const { services } = plan
    const ordered = intentsInOrder(plan)
    const coversService = (wide: Intent, narrow: Intent): boolean => {
      if (wide.service === 'any' || wide.service === narrow.service) return true
      if (narrow.service === 'any') return false
      const [w, n] = [services[wide.service]!, services[narrow.service]!]
      return w.protocol === n.protocol && isWithin(n.ports, w.ports)
    }
    // A host that is denied is denied with its whole segment over IPv6; so it is never quite
    // covered by what is allowed to a host or a group.
    const isPlain = (i: Intent): boolean =>
      [i.from, i.to].every((p) => !own(plan.devices, p) && !own(plan.groups, p))
    const covers = (wide: Intent, narrow: Intent): boolean =>
      coversService(wide, narrow) &&
      placeCovers(plan, wide.from, narrow.from) &&
      placeCovers(plan, wide.to, narrow.to) &&
      coversHours(wide.hours, narrow.hours) &&
      (isPlain(wide) || (wide.from === narrow.from && wide.to === narrow.to))
    const word = (i: Intent): string =>
      `${i.service === 'any' ? 'everything' : services[i.service]!.name}${i.hours ? ` (${hoursWords(i.hours)})` : ''}`
    const byEnds = new Map<string, number[]>()
    for (const [at, i] of ordered.entries())
      byEnds.set(`${i.from}>${i.to}`, [...(byEnds.get(`${i.from}>${i.to}`) ?? []), at])
    const wide = ordered.flatMap((i, at) =>
      isPlain(i) && i.from !== ANYWHERE && i.to !== ANYWHERE ? [] : [at],
    )
    for (const [at, late] of ordered.entries()) {
      // Of plain pairs only the same one can come before; of others any that is not plain.
      const before =
        isPlain(late) && late.from !== ANYWHERE && late.to !== ANYWHERE
          ? [...new Set([...(byEnds.get(`${late.from}>${late.to}`) ?? []), ...wide])].sort(
              (a, b) => a - b,
            )
          : ordered.keys()
      let winner: Intent | undefined
      for (const n of before) {
        if (n >= at) break
        if (covers(ordered[n]!, late)) {
          winner = ordered[n]!
          break
        }
      }
      if (!winner || winner.action === late.action) continue
      const pair = `${placeName(plan, late.from)} to ${placeName(plan, late.to)}`
      const isSame = winner.from === late.from && winner.to === late.to
      const of = isSame
        ? ''
        : ` from ${placeName(plan, winner.from)} to ${placeName(plan, winner.to)}`
      const verb = { allow: 'allowed', deny: 'denied' } as const
      const noun = { allow: 'allowance', deny: 'denial' } as const
      const takeOut = (i: Intent): Fix => ({
        label: `Take the ${noun[i.action]} out`,
        edits: [editCall('removeIntent', { id: i.id })],
      })
      // Of two that speak of the very same one has to go; in doubt what allows.
      const fixes = !covers(late, winner)
        ? [
            {
              label: `Put the ${noun[late.action]} of ${word(late)} first`,
              edits: [editCall('putIntentFirst', { id: late.id, before: winner.id })],
            },
            takeOut(late),
          ]
        : late.action === 'deny'
          ? [takeOut(winner), takeOut(late)]
          : [takeOut(late), takeOut(winner)]
      yield {
        subjects: [late.id, winner.id, late.from, late.to],
        text:
          `From ${pair} ${word(late)} is ${verb[late.action]}, but ${word(winner)}${of} is ` +
          `${verb[winner.action]} before that.`,
        why: `The first rule that matches decides; the ${noun[late.action]} is never reached.`,
        numbers: [
          { label: `rank of the ${noun[winner.action]}`, value: String(winner.rank) },
          {
            label: `rank of the ${noun[late.action]}`,
            value: String(late.rank),
            how: 'lower is looked at first',
          },
        ],
        fixes,
      }
    }
  },
})
