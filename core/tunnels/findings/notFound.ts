/** C-58, C-59, C-27: whether whoever calls finds this end, and still does after a switch of the line. */
import { editCall, endsOnGateway, inPlan, type Tunnel } from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'
import type { SiteModel } from '../../topology'
import { reckonTunnel } from '../reckoned'

function openTo(model: SiteModel, t: Tunnel): Fix[] {
  if (endsOnGateway(model.plan, t) || t.listenPort === null) return []
  const host = model.device(t.hostDeviceId)
  const taken = Object.values(model.plan.forwards).some(
    (f) =>
      f.protocol === 'udp' && f.outside.first <= t.listenPort! && t.listenPort! <= f.outside.last,
  )
  return taken
    ? []
    : [
        {
          label: `Lead UDP ${t.listenPort} to ${host.name}`,
          edits: [
            editCall('addForward', {
              id: `fwd-${t.id}`.slice(0, 64),
              name: `${t.name} in`.slice(0, 80),
              protocol: 'udp',
              outside: { first: t.listenPort, last: t.listenPort },
              deviceId: host.id,
              inside: t.listenPort,
              reason: 'the tunnel is called here',
            }),
          ],
        },
      ]
}

export default defineRule({
  id: 'tunnels/not-found',
  severity: 'blocker',
  catches: ['C-58', 'C-59', 'C-27'],
  title: 'Nobody outside finds this end',
  sheet: 'tunnels',
  reads: [
    'tunnels',
    'peers',
    'uplinks',
    'forwards',
    'devices',
    'profiles',
    'intents',
    'services',
    'segments',
    'groups',
    'site',
    'ports',
    'links',
    'wirelessNetworks',
  ],
  *check(model) {
    const { plan } = model
    for (const t of Object.values(plan.tunnels)) {
      if (!t.isActive || t.kind === 'provider') continue
      const r = reckonTunnel(model, t)
      const callers = r.peers.filter((p) => p.peer.endpoint === null)
      if (callers.length === 0) continue
      const lines = model.lines.filter((u) => u.portId !== null)
      const [first] = lines
      if (t.listenPort === null && t.protocol === 'wireguard') {
        yield {
          key: `port:${t.id}`,
          catches: ['C-59'],
          subjects: [t.id],
          text:
            `${t.name} listens on no port, and ` +
            `${callers.length === 1 ? callers[0]!.peer.name : `${callers.length} peers`} would call it.`,
          why: 'With neither end called, nobody begins.',
          fixes: [
            {
              label: 'Listen on UDP 51820',
              edits: [editCall('changeTunnel', { id: t.id, changes: { listenPort: 51_820 } })],
            },
          ],
        }
        continue
      }
      if (!first) continue
      const isShutThere = first.handOff.addressKind === 'private' && t.isPassedOn === false
      if (first.handOff.addressKind === 'carrier-grade')
        yield {
          key: `nat:${t.id}`,
          catches: ['C-58'],
          subjects: [t.id, first.id],
          text: `${t.name} cannot be called: ${first.name} is behind the translation of its provider.`,
          why: 'Have the other end listen and call it from here, or ask the provider for an address of your own.',
        }
      else if (!r.called && !isShutThere) {
        const fixes = openTo(model, t)
        yield {
          key: `found:${t.id}`,
          catches: fixes.length > 0 ? ['C-59'] : ['C-58'],
          subjects: [t.id, first.id],
          text: `Nobody finds ${t.name}: ${r.whyNot}.`,
          why:
            fixes.length > 0
              ? 'What arrives at the line ends there.'
              : 'Files would have to be handed out anew with every new address: give it a name first.',
          fixes,
        }
      } else if (first.handOff.addressKind === 'private' && t.isPassedOn !== true)
        yield {
          key: `passed:${t.id}`,
          severity: t.isPassedOn === false ? 'blocker' : 'caution',
          catches: ['C-59'],
          subjects: [t.id, first.id],
          text:
            `${first.name} ends in the provider's own router: ` +
            `${r.called ? `UDP ${r.called.port}` : 'the port'} has to be passed on there` +
            (t.isPassedOn === false ? ', and is not.' : ', and nobody looked yet.'),
          why: 'Tried from inside all works; from outside nothing arrives.',
        }
      else if (first.handOff.mode !== 'fixed' && t.endpointName !== null && t.dynamicName === null)
        yield {
          key: `name:${t.id}`,
          severity: 'caution',
          catches: ['C-58'],
          subjects: [t.id, first.id],
          text:
            `${t.endpointName} stands in the files of ${t.name}, and nobody keeps it ` +
            `right when the address of ${first.name} changes.`,
          why:
            'It works until the first night on which the line is renewed. Set up who ' +
            'updates it, and prove a second update.',
        }
      if (
        first.handOff.addressKind === 'private' &&
        t.endpointName &&
        t.dynamicName?.how === 'update'
      )
        yield {
          key: `inner:${t.id}`,
          severity: 'caution',
          catches: ['C-58'],
          subjects: [t.id, first.id],
          text:
            `${t.endpointName} would be told an address that nobody outside reaches: ` +
            `the gateway stands behind the router of ${first.name}.`,
          why: 'Whoever sends an update (RFC 2136) says what it knows of itself; who is called by the web sees more.',
          fixes: [
            {
              label: 'Have it told by the call of a web address',
              edits: [
                editCall('changeTunnel', {
                  id: t.id,
                  changes: { dynamicName: { ...t.dynamicName, how: 'web' } },
                }),
              ],
            },
          ],
        }
      const standby = lines.filter(
        (u) =>
          u.rank > first.rank &&
          (u.handOff.addressKind === 'carrier-grade' || u.handOff.addressKind === 'private'),
      )
      if (r.called && standby.length > 0)
        yield {
          key: `switch:${t.id}`,
          severity: 'note',
          catches: ['C-27'],
          subjects: [t.id, standby[0]!.id],
          text:
            `${t.name} is not called over ${inPlan(plan.uplinks, standby[0]!.id).name}: ` +
            'while that line is used, whoever calls stays outside.',
          why: 'Its provider translates addresses. What begins here still gets out.',
        }
    }
  },
})
