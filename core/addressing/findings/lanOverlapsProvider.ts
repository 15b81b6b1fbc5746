/**
 * C-02: a LAN subnet that overlaps the LAN of the provider's own router: two NATs in a row with one
 * subnet on both sides cannot route.
 */
import { overlaps, parsePrefix } from '../../addressing'
import { moveToFreeSpace } from '../../findings/relocation'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'addressing/lan-overlaps-provider',
  severity: 'blocker',
  catches: ['C-02'],
  title: "A segment overlaps the provider's own LAN",
  sheet: 'addresses',
  reads: ['site', 'segments', 'devices', 'profiles', 'uplinks', 'knownNetworks'],
  *check(model) {
    for (const uplink of Object.values(model.plan.uplinks)) {
      const { providerLan } = uplink.handOff
      const theirs = providerLan && providerLan !== 'none' ? parsePrefix(providerLan) : undefined
      if (!theirs) continue
      for (const s of model.segments) {
        const ours = s.subnet ? parsePrefix(s.subnet) : undefined
        if (!ours || !overlaps(ours, theirs)) continue
        yield {
          subjects: [s.id, uplink.id],
          text: `${s.name} ${s.subnet} overlaps ${providerLan}, the LAN of the provider's router on ${uplink.name}.`,
          why:
            'With the same subnet on both sides the gateway cannot tell where to send, and ' +
            'nothing behind it reaches out.',
          numbers: [
            { label: 'ours', value: s.subnet! },
            { label: "the provider's", value: providerLan! },
          ],
          fixes: moveToFreeSpace(model, s),
        }
      }
    }
  },
})
