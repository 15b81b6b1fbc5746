/** C-68: a watchdog that asks an address where nobody answers starts its device anew for ever. */
import { containsAddress, isPrivate, parseAddress, prefix } from '../../addressing'
import { defineRule } from '../../findings/rule'
import { trace } from '../../forwarding'
import { collections, editCall, type Device } from '../../plan'
import type { SiteModel } from '../../topology'

const ECHO = { id: 'echo', name: 'an echo', protocol: 'icmp' as const, ports: [] }

/** Why nobody answers there; null where somebody does, or where the plan cannot know. */
function whyNobody(model: SiteModel, device: Device, target: string): string | null {
  const at = parseAddress(target)
  if (!at) return `${target} is no address`
  if (device.addressing.address === target) return `${target} is its own address`
  const segment = model.segments.find((s) => s.subnet && containsAddress(prefix(s.subnet), at))
  const from = { kind: 'device', id: device.id } as const
  const lost = (t: ReturnType<typeof trace>): string | null =>
    t.verdict === 'delivered' ? null : t.decidedBy.text
  if (model.segments.some((s) => s.gateway === target))
    return lost(trace(model, from, { kind: 'gateway' }, ECHO))
  if (segment) {
    const host = model.membersOf(segment.id).find((d) => d.addressing.address === target)
    return host
      ? lost(trace(model, from, { kind: 'device', id: host.id }, ECHO))
      : `nobody in ${segment.name} has ${target}`
  }
  const isThere = (networks: readonly string[]): boolean =>
    networks.some((n) => containsAddress(prefix(n), at))
  const peer = Object.values(model.plan.peers).find((p) => isThere(p.networks))
  if (peer) return lost(trace(model, from, { kind: 'peer', id: peer.id }, ECHO))
  const beforeLine = model.lines.some(
    ({ handOff: { providerLan: lan } }) => lan && lan !== 'none' && isThere([lan]),
  )
  if (isPrivate({ family: 4, network: at.value, length: 32 }) && !beforeLine)
    return 'it is private space, and of no segment here'
  return lost(trace(model, from, { kind: beforeLine ? 'provider' : 'internet' }, ECHO))
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
