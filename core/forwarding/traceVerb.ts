/** The fate of one connection. */
import type { Endpoint } from './fate'
import { trace } from './trace'
import type { SitePlan, Uplink } from '../plan'
import { siteModel } from '../topology'
import { defineVerb, Unusable } from '../verbs/verb'

export const traceVerb = defineVerb({
  name: 'trace',
  usage: 'FILE --from X --to Y --service S [--dead LINE] [--json]',
  about: 'the fate of one connection',
  run(plan, options) {
    const { from, to, service, dead } = options
    if (!from || !to || !service) throw new Unusable('trace needs --from, --to and --service')
    const wanted = Object.values(plan.services).find(
      (s) => s.id === service || s.name.toLowerCase() === service.toLowerCase(),
    )
    if (!wanted)
      throw new Unusable(
        `there is no service '${service}'; known are ${Object.values(plan.services)
          .map((s) => s.name)
          .join(', ')}`,
      )
    const asking = endpoint(plan, from)
    if (asking.kind === 'gateway' || asking.kind === 'provider' || asking.kind === 'forward')
      throw new Unusable(
        `'${from}' asks nobody in a plan; ask from a device, a segment or the internet`,
      )
    const line = dead === undefined ? undefined : lineOf(plan, dead)
    const result = trace(
      siteModel(plan),
      asking,
      endpoint(plan, to),
      wanted,
      'ipv4',
      null,
      new Set(line ? [line.id] : []),
    )
    return {
      status: result.verdict === 'delivered' ? 0 : 1,
      text: [
        ...result.hops.map((h) => `${h.layer.padEnd(6)} ${h.text}`),
        `${result.verdict}: ${result.decidedBy.text} (${result.decidedBy.kind} ${result.decidedBy.id})`,
      ].join('\n'),
      json: { ok: true, ...result },
    }
  },
})

function lineOf(plan: SitePlan, text: string): Uplink {
  const lines = Object.values(plan.uplinks)
  const line = lines.find((u) => u.id === text || u.name.toLowerCase() === text.toLowerCase())
  if (!line)
    throw new Unusable(
      `there is no line '${text}'; known are ${lines.map((u) => u.name).join(', ') || 'none'}`,
    )
  return line
}

/** A device or segment by id or name, `internet` or `gateway`. */
function endpoint(plan: SitePlan, text: string): Endpoint {
  const named = <T extends { id: string; name: string }>(items: Record<string, T>): T | undefined =>
    Object.values(items).find((x) => x.id === text || x.name.toLowerCase() === text.toLowerCase())
  const device = named(plan.devices)
  if (device)
    return siteModel(plan).gateway?.id === device.id
      ? { kind: 'gateway' }
      : { kind: 'device', id: device.id }
  const segment = named(plan.segments)
  if (segment) return { kind: 'segment', id: segment.id }
  const forward = named(plan.forwards)
  if (forward) return { kind: 'forward', id: forward.id }
  // The plan's own names come first.
  if (text === 'internet' || text === 'gateway' || text === 'provider') return { kind: text }
  throw new Unusable(
    `there is no device, segment or port forward '${text}'; names are as in the plan, and ` +
      `'internet', 'gateway' and 'provider' are known too`,
  )
}
