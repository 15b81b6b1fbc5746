/** C-68: a watchdog that asks an address where nobody answers starts its device anew for ever. */
import { defineRule } from '../../findings/rule'
import { atAddress, trace } from '../../forwarding'
import { collections, editCall, type Device } from '../../plan'
import type { SiteModel } from '../../topology'

const ECHO = { id: 'echo', name: 'an echo', protocol: 'icmp' as const, ports: [] }

/** Why nobody answers there; null where somebody does. */
function whyNobody(model: SiteModel, device: Device, target: string): string | null {
  if (device.addressing.address === target) return `${target} is its own address`
  const { end, why } = atAddress(model, target)
  if (!end) return why
  const t = trace(model, { kind: 'device', id: device.id }, end, ECHO)
  return t.verdict === 'delivered' ? null : t.decidedBy.text
}

export default defineRule({
  id: 'adoption/watchdog-target',
  severity: 'blocker',
  catches: ['C-68'],
  title: 'A watchdog that is never answered',
  sheet: 'survey',
  reads: ['site', 'controller', ...collections],
  *check(model) {
    for (const d of model.devices) {
      if (!d.watchdog) continue
      const { address, everySeconds, failures } = d.watchdog
      const why = whyNobody(model, d, address)
      if (!why) continue
      const home = d.addressing.segmentId ? model.segment(d.addressing.segmentId).gateway : null
      const mends = home && home !== address && !whyNobody(model, d, home)
      yield {
        subjects: [d.id],
        text: `The watchdog of ${d.name} asks ${address}, and nobody answers: ${why}.`,
        why:
          `It starts ${d.name} anew every ${minutes(everySeconds * failures)}, for ever, ` +
          'and that looks like a bad device.',
        numbers: [
          {
            label: 'starts anew after',
            value: minutes(everySeconds * failures),
            how: `${failures} times ${everySeconds} s`,
          },
        ],
        fixes: [
          ...(mends
            ? [
                {
                  label: `Have it ask ${home}, the gateway of its segment`,
                  edits: [
                    editCall('changeDevice', {
                      id: d.id,
                      changes: { watchdog: { ...d.watchdog, address: home } },
                    }),
                  ],
                },
              ]
            : []),
          {
            label: 'Take the watchdog away',
            edits: [editCall('changeDevice', { id: d.id, changes: { watchdog: null } })],
          },
        ],
      }
    }
  },
})

const minutes = (seconds: number): string =>
  seconds < 120 ? `${seconds} s` : `${Math.round(seconds / 6) / 10} min`
