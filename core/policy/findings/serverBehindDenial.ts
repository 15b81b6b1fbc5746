/** C-88: name and time servers that a segment is told of and may not ask. */
import { address, classify, containsAddress, prefix } from '../../addressing'
import { editCall, type EditCall, type Segment, type Service, newId } from '../../plan'
import { decideService } from '../../policy'
import type { SiteModel } from '../../topology'
import { defineRule, type Fix } from '../../findings/rule'
import { DECIDES_BY } from '../decidesBy'

interface Kind {
  readonly word: string
  readonly service: Service
  readonly of: (s: Segment) => readonly string[]
}
const kinds: readonly Kind[] = [
  {
    word: 'name server',
    service: { id: 'svc-dns', name: 'names', protocol: 'udp', ports: [53] },
    of: (s) => s.options.nameServers,
  },
  {
    word: 'time server',
    service: { id: 'svc-ntp', name: 'time', protocol: 'udp', ports: [123] },
    of: (s) => s.options.timeServers,
  },
]

/** Where a server is, and why it cannot be asked from a segment; undefined where it can. */
function whyNot(
  model: SiteModel,
  s: Segment,
  server: string,
  kind: Kind,
): { reason: string; home: string } | undefined {
  const at = address(server)
  if (model.segments.some((x) => x.gateway === server)) return undefined
  const home = model.segments.find((x) => x.subnet && containsAddress(prefix(x.subnet), at))
  if (home?.id === s.id) return undefined
  if (!home && classify(at).kind !== 'public' && classify(at).kind !== 'documentation')
    return { reason: "no segment has this address, and beyond the line it is nobody's", home: '' }
  const to = home?.id ?? 'internet'
  const host = home && model.membersOf(home.id).find((d) => d.addressing.address === server)
  const { allowed, rule } = decideService(model.plan, s.id, host?.id ?? to, kind.service)
  return allowed
    ? undefined
    : {
        reason: `the policy keeps ${s.name} out of ${home?.name ?? 'the internet'} (${rule.text})`,
        home: to,
      }
}

function fixes(model: SiteModel, s: Segment, server: string, kind: Kind, home: string): Fix[] {
  const changed = (list: readonly string[]): string[] => list.filter((a) => a !== server)
  const options = {
    ...s.options,
    nameServers:
      kind.service.id === 'svc-dns' ? changed(s.options.nameServers) : s.options.nameServers,
    timeServers:
      kind.service.id === 'svc-ntp' ? changed(s.options.timeServers) : s.options.timeServers,
  }
  const forget: Fix = {
    label:
      options.nameServers.length === 0 && kind.service.id === 'svc-dns'
        ? 'Let them ask the gateway'
        : `Leave ${server} out`,
    edits: [editCall('changeSegment', { id: s.id, changes: { options } })],
  }
  if (home === '') return [forget]
  const known = Object.values(model.plan.services).find(
    (x) => x.protocol === 'udp' && x.ports.length === 1 && x.ports[0] === kind.service.ports[0],
  )
  const service = known?.id ?? newId(model.plan, kind.service.id)
  const add: EditCall[] = known ? [] : [editCall('addService', { ...kind.service, id: service })]
  const allow: Fix = {
    label: `Let ${s.name} ask it`,
    edits: [
      ...add,
      editCall('stateFirst', {
        id: newId(model.plan, `ask ${kind.word} ${s.id} ${home}`),
        from: s.id,
        to: home,
        service,
        action: 'allow',
        reason: `${s.name} asks a ${kind.word} there`,
      }),
    ],
  }
  // Where it is allowed already, something else stands in the way.
  const isAllowed = Object.values(model.plan.intents).some(
    (i) => i.from === s.id && i.to === home && i.service === service && i.action === 'allow',
  )
  return isAllowed ? [forget] : [allow, forget]
}

export default defineRule({
  id: 'policy/server-behind-denial',
  severity: 'blocker',
  catches: ['C-88'],
  title: 'A server that leases tell of and the policy denies',
  sheet: 'policy',
  reads: DECIDES_BY,
  *check(model) {
    for (const s of model.segments)
      for (const kind of kinds)
        for (const server of kind.of(s)) {
          const wrong = whyNot(model, s, server, kind)
          if (wrong)
            yield {
              key: `${kind.word}:${server}:${s.id}`,
              subjects: [s.id, ...(model.plan.segments[wrong.home] ? [wrong.home] : [])],
              text: `${s.name} is told of the ${kind.word} ${server}, but ${wrong.reason}.`,
              why:
                kind.word === 'name server'
                  ? 'No name is found, which looks as if the internet were gone.'
                  : 'Clocks drift, and certificates, cameras and logs with them.',
              fixes: fixes(model, s, server, kind, wrong.home),
            }
        }
  },
})
