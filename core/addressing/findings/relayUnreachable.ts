/** C-13: DHCP relayed to a server that the segment cannot reach. */
import { address, containsAddress, isPrivate, parsePrefix, prefix } from '../../addressing'
import { decideService } from '../../policy'
import { editCall, type Segment, newId } from '../../plan'
import type { SiteModel } from '../../topology'
import { defineRule, type Fix } from '../../findings/rule'

const dhcp = { id: 'dhcp', name: 'DHCP', protocol: 'udp' as const, ports: [67] }

function whyUnreachable(
  model: SiteModel,
  s: Segment,
): { reason: string; home: Segment | undefined; isPolicy: boolean } | undefined {
  const server = address(s.dhcp.relayTo!)
  const home = model.segments.find((x) => x.subnet && containsAddress(prefix(x.subnet), server))
  if (!home) {
    const joined = Object.values(model.plan.knownNetworks).some((n) => {
      const p = parsePrefix(n.prefix)
      return p !== undefined && containsAddress(p, server)
    })
    if (joined) return undefined
    return isPrivate({ family: 4, network: server.value, length: 32 })
      ? {
          reason: 'no segment and no joined network of the site has this address',
          home,
          isPolicy: false,
        }
      : undefined
  }
  if (home.id === s.id) return undefined
  const host = model.membersOf(home.id).find((d) => d.addressing.address === s.dhcp.relayTo)
  if (!host) return { reason: `no device of ${home.name} has this address`, home, isPolicy: false }
  // The relay asks for the client, but renewals go straight to the server (RFC 2131 4.3.2).
  const { allowed, rule } = decideService(model.plan, s.id, host.id, dhcp)
  return allowed
    ? undefined
    : {
        reason: `the policy keeps ${s.name} out of ${home.name} (${rule.id})`,
        home,
        isPolicy: true,
      }
}

export default defineRule({
  id: 'addressing/relay-unreachable',
  severity: 'blocker',
  catches: ['C-13'],
  title: 'DHCP is relayed to where nobody answers',
  sheet: 'addresses',
  reads: [
    'site',
    'segments',
    'devices',
    'profiles',
    'uplinks',
    'knownNetworks',
    'services',
    'intents',
    'wirelessNetworks',
    'groups',
    'forwards',
  ],
  *check(model) {
    for (const s of model.segments) {
      if (s.dhcp.mode !== 'relay' || !s.dhcp.relayTo) continue
      const wrong = whyUnreachable(model, s)
      if (!wrong) continue
      const own: Fix = {
        label: 'Let the gateway hand out the leases',
        edits: [
          editCall('changeSegment', {
            id: s.id,
            changes: { dhcp: { mode: 'server', relayTo: null } },
          }),
        ],
      }
      const known = Object.values(model.plan.services).find(
        (x) => x.protocol === 'udp' && x.ports.length === 1 && x.ports[0] === dhcp.ports[0],
      )
      const serviceId = known?.id ?? newId(model.plan, 'svc dhcp')
      const allow: Fix[] =
        wrong.isPolicy && wrong.home
          ? [
              {
                label: `Let ${s.name} ask ${wrong.home.name} for leases`,
                edits: [
                  ...(known ? [] : [editCall('addService', { ...dhcp, id: serviceId })]),
                  editCall('stateFirst', {
                    id: newId(model.plan, `lease ${s.id}`),
                    from: s.id,
                    to: wrong.home.id,
                    service: serviceId,
                    action: 'allow',
                    reason: 'renewals go straight to the DHCP server',
                  }),
                ],
              },
            ]
          : []
      yield {
        subjects: [s.id, ...(wrong.home ? [wrong.home.id] : [])],
        text: `The requests of ${s.name} are passed on to ${s.dhcp.relayTo}, but ${wrong.reason}.`,
        // Whoever rebinds is passed on by the gateway again (RFC 2131 4.4.5), so an address is held
        // on to, but for the last eighth of each lease in doubt.
        ...(wrong.isPolicy ? { severity: 'caution' as const } : {}),
        why: wrong.isPolicy
          ? 'The first lease comes through the gateway, renewals go straight to the server and ' +
            'get no answer: every host stands without one from half of its lease until it asks ' +
            'everybody, an eighth before the end.'
          : 'No host of the segment gets an address.',
        fixes: [...allow, own],
      }
    }
  },
})
