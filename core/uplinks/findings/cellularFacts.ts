/** C-26: a cellular line that lacks what it needs before it has power. */
import { defineRule } from '../../findings/rule'
import { linesInUse } from '../failover/siteOutlook'

export default defineRule({
  id: 'uplinks/cellular-facts',
  severity: 'caution',
  catches: ['C-26'],
  title: 'A cellular line that cannot come up yet',
  sheet: 'uplinks',
  reads: ['uplinks'],
  *check(model) {
    for (const u of linesInUse(model)) {
      if (u.handOff.mode !== 'cellular') continue
      const { cellular } = u
      const missing = [
        ...(u.handOff.accessPointName ? [] : ['the access point name']),
        ...(cellular?.account ? [] : ['the account that pays for it']),
        ...(cellular?.card ? [] : ['the number of its SIM card']),
        ...(cellular?.antennas.length ? [] : ['which antenna goes into which socket']),
      ]
      if (missing.length > 0)
        yield {
          subjects: [u.id],
          text: `Of ${u.name} is not known yet: ${missing.join(', ')}.`,
          why: 'A card and antennas go in before it has power, and a standby without them never takes over.',
          fixes: [],
        }
    }
  },
})
