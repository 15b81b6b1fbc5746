/** C-29: a PPPoE line with packets that do not fit into its frames. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'

/** Of an Ethernet frame's 1500 octets PPPoE and PPP take eight (RFC 2516 7). */
const MOST = 1492

export default defineRule({
  id: 'survey/pppoe-mtu',
  severity: 'caution',
  catches: ['C-29'],
  title: 'Packets that do not fit through a PPPoE line',
  sheet: 'survey',
  reads: ['uplinks'],
  *check(model) {
    for (const u of Object.values(model.plan.uplinks)) {
      if (u.handOff.mode !== 'pppoe' || u.handOff.mtu === null || u.handOff.mtu <= MOST) continue
      yield {
        subjects: [u.id],
        text: `${u.name} signs in by PPPoE and is noted with an MTU of ${u.handOff.mtu}.`,
        why:
          'Small pages open and large ones hang. Some providers carry larger frames (RFC ' +
          '4638); then ask for it in writing.',
        numbers: [
          {
            label: 'most',
            value: `${MOST} octets`,
            how: '1500 less 6 of PPPoE and 2 of PPP (RFC 2516 7)',
          },
        ],
        fixes: [
          {
            label: `Note ${MOST}`,
            edits: [editCall('recordHandOff', { uplinkId: u.id, facts: { mtu: MOST } })],
          },
        ],
      }
    }
  },
})
