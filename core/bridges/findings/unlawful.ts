/** C-43, C-35: more power than is lawful with this antenna, a gain that nobody entered, closed channels. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'
import { CHECK, fixedLawOf } from '../lawful/fixedLaw'
import { knownBridges } from '../reckoned'
import { CARRIES } from './reads'

const one = (n: number): number => Math.round(n * 10) / 10

export default defineRule({
  id: 'bridges/unlawful',
  severity: 'blocker',
  catches: ['C-43', 'C-35'],
  title: 'A bridge sends what its country does not allow',
  sheet: 'bridges',
  reads: CARRIES,
  *check(model) {
    const { country } = model.plan.site
    for (const r of knownBridges(model)) {
      const { facts, toB, toA } = r.budget
      const { bridge } = r
      for (const [end, { sending }] of [
        ['a', toB],
        ['b', toA],
      ] as const) {
        const { device, set, antenna, unit, mhz } = facts[end]
        const key = `${bridge.id}:${end}`
        const change = (changes: object) => [
          editCall('changeBridge', { id: bridge.id, changes: { [end]: { ...set, ...changes } } }),
        ]
        if (antenna.gainDbi === 0 && unit.antenna.shape !== 'around')
          yield {
            key: `gain:${key}`,
            subjects: [bridge.id, device.id],
            title: 'The gain of an antenna is not entered',
            text: `${device.name}: its antenna is entered with 0 dBi, so that all of the power would count as lawful.`,
            why: `Power and gain count together. The antenna of the unit has ${unit.antenna.gainDbi} dBi. ${CHECK}`,
            fixes:
              set.antenna !== null && unit.antenna.gainDbi > 0
                ? [
                    {
                      label: `Take the antenna of the unit, ${unit.antenna.gainDbi} dBi`,
                      edits: change({ antenna: null }),
                    },
                  ]
                : [],
          }
        if (!sending.verdict.ok) {
          const isUnknown = sending.verdict.kind === 'country'
          if (isUnknown && end === 'b') continue
          const open = unit.channels.find(
            (c) =>
              fixedLawOf(country, c.mhz, set.widthMhz, antenna.gainDbi, bridge.licensedDbm).ok &&
              facts[end === 'a' ? 'b' : 'a'].unit.channels.some((x) => x.number === c.number),
          )
          // Of one that has no channel yet nothing is wrong yet.
          if (mhz === null && open) continue
          yield {
            key: `closed:${key}`,
            severity: isUnknown ? 'caution' : 'blocker',
            subjects: [bridge.id, device.id],
            title: isUnknown
              ? 'Nothing is kept of what the country allows'
              : 'A channel that is not open',
            text: `${device.name}: ${sending.verdict.reason}.`,
            why: `Radar, satellites and others use what is closed. ${CHECK}`,
            fixes:
              !isUnknown && open
                ? [
                    {
                      label: `Set both ends to channel ${open.number}, ${open.mhz} MHz`,
                      edits: [
                        editCall('changeBridge', {
                          id: bridge.id,
                          changes: {
                            a: { ...bridge.a, channel: open.number, powerDbm: null },
                            b: { ...bridge.b, channel: open.number, powerDbm: null },
                          },
                        }),
                      ],
                    },
                  ]
                : [],
          }
          continue
        }
        const { law, limitDbm } = sending.verdict
        const numbers = [
          {
            label: 'sends',
            value: `${one(sending.eirpDbm)} dBm EIRP`,
            how: `${sending.powerDbm} dBm - ${set.cableDb} dB of cable + ${antenna.gainDbi} dBi`,
          },
          {
            label: 'allowed',
            value: `${one(limitDbm)} dBm EIRP`,
            how: `${law.words || 'as licensed'} (${law.source})`,
          },
        ]
        if (sending.isTooStrong)
          yield {
            key: `strong:${key}`,
            subjects: [bridge.id, device.id],
            text:
              `${device.name} cannot be turned down far enough: ${unit.leastPowerDbm} dBm into ` +
              `${antenna.gainDbi} dBi are ` +
              `${one(unit.leastPowerDbm - set.cableDb + antenna.gainDbi)} dBm EIRP, and ` +
              `${one(limitDbm)} dBm are allowed.`,
            why: `A smaller antenna, or another channel. ${CHECK}`,
            numbers,
            fixes: [],
          }
        else if (sending.eirpDbm > limitDbm + 1e-9)
          yield {
            key: `power:${key}`,
            subjects: [bridge.id, device.id],
            text:
              `${device.name} is set to ${sending.powerDbm} dBm; with its antenna of ` +
              `${antenna.gainDbi} dBi that is ${one(sending.eirpDbm)} dBm EIRP, and ` +
              `${one(limitDbm)} dBm are allowed in ${country}.`,
            why: `Power and gain count together. ${CHECK}`,
            numbers,
            fixes: [
              {
                label: `Set ${device.name} to ${sending.lawfulDbm} dBm`,
                edits: change({ powerDbm: sending.lawfulDbm }),
              },
            ],
          }
        if (law.isRadar && end === 'a' && mhz !== null)
          yield {
            key: `radar:${bridge.id}`,
            severity: 'note',
            catches: [],
            subjects: [bridge.id],
            title: 'A channel that is shared with radar',
            text:
              `${bridge.name} is on a channel where units listen for radar for a minute first, ` +
              'and leave when they hear one.',
            why: `While it looks for another channel nothing passes. ${CHECK}`,
            fixes: [],
          }
      }
    }
  },
})
