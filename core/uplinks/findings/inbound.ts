/** C-27: what is reached from outside and cannot be while another line is used. */
import { defineRule } from '../../findings/rule'
import { linesInUse } from '../failover/siteOutlook'

export default defineRule({
  id: 'uplinks/inbound-breaks',
  severity: 'caution',
  catches: ['C-27'],
  title: 'What comes in does not survive the switch',
  sheet: 'uplinks',
  reads: ['uplinks', 'forwards'],
  *check(model) {
    const forwards = Object.values(model.plan.forwards)
    if (forwards.length === 0) return
    const [first, ...others] = linesInUse(model)
    // Where the first line takes nothing in either, that is said elsewhere.
    if (!first || first.handOff.addressKind === 'carrier-grade') return
    for (const u of others) {
      const { addressKind } = u.handOff
      if (addressKind !== 'carrier-grade' && addressKind !== 'private') continue
      yield {
        subjects: [u.id, ...forwards.map((f) => f.id)],
        text:
          `While ${u.name} is used, nobody outside reaches ` +
          `${forwards.map((f) => f.name).join(', ')}: its address is ` +
          `${addressKind === 'carrier-grade' ? 'shared by the provider (carrier-grade NAT)' : 'a private one'}.`,
        why: 'It works in every test but the one that matters.',
        fixes: [],
      }
    }
  },
})
