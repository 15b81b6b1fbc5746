/** What is wrong with a tunnel, from which of its tests fail and how far its calls come. */
import type { Tunnel, Peer } from '../plan'
import { ids, type Cause, type CauseFinder, type Evidence } from '../proof/cause'
import type { ProofResult } from '../proof/judge'
import { reckonedTunnels } from './reckoned'

interface Around {
  readonly tunnel: Tunnel
  readonly peer: Peer
  /** All tests of the peer, and those that contradict. */
  readonly all: readonly ProofResult[]
  readonly wrong: readonly ProofResult[]
}
type Found = Pick<Cause, 'kind' | 'text' | 'checks'> & {
  readonly explained?: readonly ProofResult[]
}

const isOf = (peerId: string) => (r: ProofResult) =>
  r.test.from === peerId ||
  r.test.id.split(':').includes(`peer ${peerId}`) ||
  r.test.probe?.exit === peerId ||
  r.test.probe?.without === peerId
const isHandshake = (r: ProofResult): boolean => r.test.kind === 'handshake'
const isInside = (r: ProofResult): boolean => Boolean(r.test.probe?.inside)
const fails = (r: ProofResult | undefined): boolean => r?.verdict === 'contradicts'

function aboutTunnels({ model, results }: Evidence): Cause[] {
  // Without a line there is nothing to be said of tunnels.
  if (fails(results.find((r) => r.test.id === 'gateway>internet:ping:'))) return []
  return reckonedTunnels(model).flatMap(({ tunnel, peers }) =>
    peers.flatMap(({ peer }): Cause[] => {
      const all = results.filter(isOf(peer.id))
      const wrong = all.filter(fails)
      if (wrong.length === 0) return []
      const found = whyOf({ tunnel, peer, all, wrong })
      if (!found) return []
      const { explained = wrong, ...cause } = found
      return [
        {
          ...cause,
          evidence: explained.slice(0, 4).map((r) => `${r.test.title}: ${r.observed}`),
          explains: ids(explained),
          subjects: [tunnel.id, peer.id],
        },
      ]
    }),
  )
}

function whyOf(a: Around): Found | undefined {
  const outside = a.all.find((r) => isHandshake(r) && !isInside(r))
  return fails(outside) ? noHandshake(a, outside!) : afterHandshake(a)
}

/** No handshake: the address, the way to the line, the port, or the keys. */
function noHandshake({ tunnel, peer, all }: Around, outside: ProofResult): Found {
  const seen = outside.observation?.tunnel ?? null
  const refused =
    tunnel.protocol === 'ikev2' ? whyRefused(tunnel, peer, seen?.refusal ?? null) : null
  if (refused) return refused
  const inside = all.find(isInside)
  const port =
    tunnel.protocol === 'ikev2'
      ? 'UDP 500 and 4500'
      : `UDP ${tunnel.listenPort ?? peer.endpoint?.port ?? ''}`
  if (peer.endpoint)
    return {
      kind: 'tunnel-silent',
      text: `${peer.name} does not answer ${tunnel.name}: it is off, elsewhere, or knows this end by another key.`,
      checks: [
        `Does ${peer.endpoint.host} lead to it, and does it listen at ${port}?`,
        'Was its file made anew? Then its key, and the key that it has of this end, are others.',
        'Read what it shows of its peers: calls that arrive and get no answer are keys.',
      ],
    }
  if (fails(inside) && inside?.observation?.tunnel?.arrived !== 'end')
    return {
      kind: 'tunnel-port',
      text: `Neither inside nor from outside does the gateway take in what ${peer.name} sends to ${port}.`,
      checks: [
        `Is there a rule that lets ${port} in, and does the gateway run the rules of this plan?`,
        `Is ${tunnel.name} switched on at the gateway, and does it listen at ${port}?`,
      ],
    }
  if (fails(inside))
    return {
      kind: 'tunnel-key',
      text: `${peer.name} and ${tunnel.name} do not know each other by their keys: it fails inside as well.`,
      checks: [
        'The public key here has to belong to the private key there, and the other way round.',
        'Where there is a shared key, both ends have the same one.',
        `Hand out the file of ${peer.name} anew, and switch the old one off.`,
      ],
    }
  if (seen && seen.called === null)
    return {
      kind: 'tunnel-name',
      text: `${peer.name} finds no address for ${tunnel.endpointName ?? 'the end here'}.`,
      checks: [
        'Ask for the name from outside; does the zone have it?',
        'Is the name in the file typed as it is here?',
      ],
    }
  if (seen && seen.here !== null && seen.called !== seen.here)
    return {
      kind: 'tunnel-endpoint',
      text:
        `${peer.name} calls ${seen.called}, and the line is at ${seen.here}: the ` +
        'name did not follow, or an old address is kept.',
      checks: [
        tunnel.dynamicName
          ? `Is the name told at ${tunnel.dynamicName.server}? Look at the second change, not only at the first.`
          : 'Nobody keeps the name right when the address changes: set up a name that follows.',
        `Wait for ${tunnel.dynamicName?.ttlSeconds ?? 3600} s, for so long an ` +
          'answer may be kept; then switch the tunnel off and on there.',
      ],
    }
  if (seen?.arrived === 'nowhere')
    return {
      kind: 'tunnel-forward',
      text: `What ${peer.name} sends to ${port} does not come to the line: it is not passed on before it.`,
      checks: [
        `Does the provider's own router pass ${port} on to the gateway?`,
        'Has the line an address of its own, or does its provider translate (RFC 6598)?',
        `Does the network where ${peer.name} is let ${port} out? Try it over another line.`,
      ],
    }
  if (seen?.arrived === 'line')
    return {
      kind: 'tunnel-port',
      text: `What ${peer.name} sends to ${port} comes to the line, and the gateway does not take it in.`,
      checks: [
        `Is there a rule that lets ${port} in from the line, and does the gateway run the rules of this plan?`,
        'Ends the tunnel on a host? Then the port of the line has to lead to it.',
      ],
    }
  return {
    kind: 'tunnel-key',
    text: `${peer.name} calls, and ${tunnel.name} does not know it: the keys do not belong together.`,
    checks: [
      'The public key here has to belong to the private key there, and the other way round.',
      `Hand out the file of ${peer.name} anew, and switch the old one off.`,
    ],
  }
}

/** What the daemons say in their logs (RFC 7296 3.10.1), and what to compare. */
function whyRefused(tunnel: Tunnel, peer: Peer, refusal: string | null): Found | undefined {
  const both = `${tunnel.name} and ${peer.name}`
  const asPlanned =
    'Ask the people there for what is set now, and type it next to this end on Tunnels.'
  switch (refusal) {
    case 'no proposal chosen':
      return {
        kind: 'tunnel-proposal',
        text: `${both} find no proposal that both take: one end was set to others.`,
        checks: [
          `This end proposes ${tunnel.ike?.proposal ?? ''}, and ${tunnel.ike?.childProposal ?? ''} for the traffic.`,
          asPlanned,
        ],
      }
    case 'authentication failed':
      return {
        kind: 'tunnel-identity',
        text: `${both} do not take each other for who they say they are: an identity or the shared key differs.`,
        checks: [
          `This end says ${tunnel.ike?.localId ?? ''} and expects ${tunnel.ike?.remoteId ?? ''}; ` +
            'the other the other way round.',
          'Type the shared key anew at both ends; blanks at its end count.',
          asPlanned,
        ],
      }
    case 'traffic selectors unacceptable':
      return {
        kind: 'tunnel-networks',
        text: `${both} know each other and name no networks in common: nothing is carried.`,
        checks: [
          `This end names ${tunnel.ike?.localSelectors.join(', ') ?? ''} here ` +
            `and ${tunnel.ike?.remoteSelectors.join(', ') ?? ''} there.`,
          asPlanned,
        ],
      }
    default:
      return undefined
  }
}

/** A handshake, and yet something does not pass. */
function afterHandshake({ tunnel, peer, all, wrong }: Around): Found | undefined {
  const of = (key: string): ProofResult | undefined => all.find((r) => r.test.id.endsWith(key))
  const largest = of(':largest')
  const end = of(':end')
  if (fails(largest) && end?.verdict === 'as-planned' && wrong.length === 1)
    return {
      kind: 'tunnel-size',
      text: `Small packets pass ${tunnel.name}, and large ones of ${peer.name} get lost: pages begin and hang.`,
      checks: [
        `Set the size at both ends to ${tunnel.mtu ?? 'what the way leaves'}; a ` +
          'path with PPPoE or over IPv6 leaves less.',
        'Clamp the segments of TCP on the gateway (RFC 4459 3.2).',
        'Send pings of a size that may not be taken apart, smaller and smaller, until one passes.',
      ],
    }
  const silence = of(`peer ${peer.id}:silence`)
  if (fails(silence) && of(`peer ${peer.id}:ping`)?.verdict === 'as-planned')
    return {
      kind: 'tunnel-silence',
      text: `${peer.name} is reached at first, and after some minutes no more: the router before it forgets the way.`,
      checks: [
        'Keepalive in its file: 25 s (common practice).',
        'Set in both files where both ends are behind a translation.',
      ],
      explained: wrong.filter((r) => r === silence || r.test.probe?.idleSeconds),
    }
  const asked = wrong.filter(
    (r) =>
      r.test.from === peer.id &&
      r.test.expected === 'works' &&
      r.test.probe?.target?.kind === 'host',
  )
  if (asked.length > 0) {
    const isSent = asked.some((r) => r.observation?.tunnel?.isSentThrough)
    return isSent
      ? {
          kind: 'tunnel-no-access',
          text:
            `${peer.name} comes in, and does not get on from the gateway: access to ` +
            'what is inside is not allowed, or nothing leads back.',
          checks: [
            `Is what ${peer.name} may reach stated in Policy, and does the gateway run it?`,
            'Does the asked host answer others? Its own firewall may not know the network of the tunnel.',
            `Do hosts inside send answers for the network of ${tunnel.name} to the gateway?`,
          ],
        }
      : {
          kind: 'tunnel-allowed',
          text: `${peer.name} does not send what it asks into the tunnel: its file allows too little.`,
          checks: [
            'The allowed addresses in its file have to hold the networks that it is to reach.',
            `Hand out the file of ${peer.name} anew.`,
          ],
        }
  }
  const exits = wrong.filter((r) => r.test.kind === 'exit' || r.test.probe?.without)
  if (exits.length > 0)
    return {
      kind: 'tunnel-exit',
      text:
        tunnel.kind === 'provider'
          ? `Who leaves through ${tunnel.name} is not who is to: something comes out elsewhere.`
          : `${peer.name} comes out elsewhere than planned.`,
      checks: [
        tunnel.kind === 'provider'
          ? 'Compare who goes through it with the routes that the gateway runs.'
          : 'Allowed addresses in its file: everything, or only what is here.',
        'Names may go another way than pages: ask where they are answered.',
      ],
      explained: exits,
    }
  return undefined
}

export const tunnelCauses: readonly CauseFinder[] = [{ turn: 60, find: aboutTunnels }]
