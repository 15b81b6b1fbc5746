/** C-53: intents that speak of a host whose address nobody knows, or of nobody. */
import {
  inPlan,
  editCall,
  hasKnownAddress,
  own,
  piecesOf,
  placeName,
  type Intent,
} from '../../plan'
import { giveKnownAddress } from '../../topology/freeAddress'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'policy/unknown-end',
  severity: 'blocker',
  catches: ['C-53'],
  title: 'The policy speaks of a host that no rule can tell apart',
  sheet: 'policy',
  reads: ['segments', 'devices', 'profiles', 'groups', 'intents'],
  *check(model) {
    const { plan } = model
    const speaking = new Map<string, Intent[]>()
    for (const intent of Object.values(plan.intents))
      for (const end of [intent.from, intent.to])
        for (const id of piecesOf(plan, end))
          if (own(plan.devices, id)) speaking.set(id, [...(speaking.get(id) ?? []), intent])
    for (const [id, intents] of speaking) {
      const device = inPlan(plan.devices, id)
      if (hasKnownAddress(device)) continue
      const denied = intents.filter((i) => i.action === 'deny')
      const give = giveKnownAddress(plan, device)
      const pairs = [
        ...new Set(intents.map((i) => `${placeName(plan, i.from)} to ${placeName(plan, i.to)}`)),
      ]
      yield {
        subjects: [id, ...intents.map((i) => i.id)],
        severity: denied.length > 0 ? 'blocker' : 'caution',
        text:
          `${device.name} has no address of its ` +
          `own${device.addressing.segmentId ? '' : ' and is in no segment'}, and the policy ` +
          'speaks of it ' +
          `(${pairs.slice(0, 3).join('; ')}${pairs.length > 3 ? ' and more' : ''}).`,
        why:
          denied.length > 0
            ? 'A rule knows a host by its address: what is denied to it would be let through.'
            : 'A rule knows a host by its address: what is allowed to it stays shut.',
        fixes: give ? [{ label: `Give ${device.name} an address of its own`, edits: [give] }] : [],
      }
    }
    for (const g of Object.values(plan.groups)) {
      const intents = Object.values(plan.intents).filter((i) => i.from === g.id || i.to === g.id)
      if (g.memberIds.length === 0 && intents.length > 0)
        yield {
          subjects: [g.id, ...intents.map((i) => i.id)],
          severity: 'caution',
          text: `${g.name} has no members, and the policy speaks of it.`,
          why: 'Its rules match nobody.',
          fixes: [
            {
              label: `Take ${g.name} and what is said of it out`,
              edits: [editCall('removeGroup', { id: g.id })],
            },
          ],
        }
    }
  },
})
