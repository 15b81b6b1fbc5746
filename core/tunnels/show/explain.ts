/** What a reading of `wg show` on this end says of each peer, and what to look at, in order. */
import { readPrefix, formatPrefix } from '../../addressing'
import type { ReckonedTunnel } from '../reckoned'
import type { Shown, ShownPeer } from './readShow'

/** Keys are thrown away after so long without a new handshake, s (its protocol: REJECT_AFTER_TIME). */
const STALE_S = 180
/** A handshake and its keepalive; more than that is traffic, octets. */
const HANDSHAKE_OCTETS = 400

export interface Explained {
  readonly peerId: string | null
  readonly name: string
  readonly state: 'fine' | 'unknown' | 'never' | 'stale' | 'no-traffic'
  readonly text: string
  /** The cheapest and likeliest first. */
  readonly checks: readonly string[]
}
export interface ShowExplained {
  readonly peers: readonly Explained[]
  /** What is wrong with this end itself. */
  readonly own: readonly string[]
}

const normal = (texts: readonly string[]): string =>
  texts
    .map((t) => {
      const read = readPrefix(t)
      return 'problem' in read ? t : formatPrefix(read)
    })
    .sort()
    .join(', ')

export function explainShow(r: ReckonedTunnel, shown: Shown): ShowExplained {
  const { tunnel } = r
  const known = new Set(r.peers.flatMap((p) => p.peer.publicKey ?? []))
  // The one that has most of its peers.
  const at = [...shown.interfaces].sort(
    (a, b) =>
      Number(b.publicKey === tunnel.publicKey) - Number(a.publicKey === tunnel.publicKey) ||
      b.peers.filter((p) => known.has(p.publicKey)).length -
        a.peers.filter((p) => known.has(p.publicKey)).length,
  )[0]
  if (!at) return { peers: [], own: ['No interface is up: load the configuration, or start it.'] }
  const own = [
    ...(tunnel.publicKey && at.publicKey && at.publicKey !== tunnel.publicKey
      ? [
          `${at.name || 'It'} has the public key ${at.publicKey}; in all files stands ${tunnel.publicKey}: ` +
            'the private key there is not the one of this pair (C-60).',
        ]
      : []),
    ...(tunnel.listenPort !== null && at.listenPort !== tunnel.listenPort
      ? [`It listens on UDP ${at.listenPort ?? 'nothing'}, and is called on ${tunnel.listenPort}.`]
      : []),
  ]
  const peers = r.peers.map(({ peer, allowedHere, keepaliveThere }): Explained => {
    const seen = at.peers.find((p) => p.publicKey === peer.publicKey)
    const say = (
      state: Explained['state'],
      text: string,
      checks: readonly string[],
    ): Explained => ({
      peerId: peer.id,
      name: peer.name,
      state,
      text,
      checks,
    })
    if (!seen)
      return say('unknown', `${peer.name} is not known there.`, [
        'Its public key was changed or never loaded: load the configuration again.',
        'Compare the public key on its device with the one in the plan.',
      ])
    if (seen.handshakeAgo === null)
      return say(
        'never',
        seen.endpoint
          ? `${peer.name} was never answered at ${seen.endpoint}.`
          : `${peer.name} never called.`,
        [
          `Port: does UDP ${r.called?.port ?? tunnel.listenPort ?? ''} reach this end? ` +
            'Try it inside first, then from another line.',
          'end? Try it inside first, then from another line.',
          ...(r.isOnGateway ? [] : ['Forward: does the gateway lead the port to the host?']),
          "The provider's own router: does it pass the port on?",
          `Key: ${peer.name} has to know ${tunnel.publicKey ?? 'the key of this end'}, and this end its own.`,
          'Endpoint: ' +
            `Endpoint: ${r.called ? `${r.called.host}:${r.called.port}` : 'none is known'}; ` +
            "does the name lead to the line's address today?",
        ],
      )
    if (seen.handshakeAgo > STALE_S && (keepaliveThere > 0 || seen.keepaliveSeconds > 0))
      return say(
        'stale',
        `${peer.name} was last heard ${Math.round(seen.handshakeAgo / 60)} min ago, though it is to keep the way open.`,
        [
          `Keepalive: every ${keepaliveThere || seen.keepaliveSeconds} s on the end that is behind a translation.`,
          'Is it switched on, and does it have a network of its own?',
          'Did the address of the line change? The name has to have followed.',
        ],
      )
    const differ = normal(seen.allowed) !== normal(allowedHere)
    if (differ || isSilent(seen))
      return say(
        'no-traffic',
        differ
          ? `${peer.name} is allowed ${normal(seen.allowed) || 'nothing'} there; planned is ${normal(allowedHere)}.`
          : `${peer.name} shook hands, and nothing came through.`,
        [
          'Allowed addresses: its own address here; what it may reach in its own file.',
          'Way back: hosts behind this end have to send answers to this end.',
          'Access: does an intent on Policy let it beyond the gateway?',
        ],
      )
    return say('fine', `${peer.name} is up${seen.endpoint ? ` from ${seen.endpoint}` : ''}.`, [
      `If small things pass and large pages hang: the size. ${r.size.mtu} octets at both ends.`,
      ...(seen.handshakeAgo > STALE_S || keepaliveThere > 0
        ? []
        : ['If it stops after some minutes of silence: give it a keepalive.']),
    ])
  })
  const strangers = at.peers
    .filter((p) => !known.has(p.publicKey))
    .map((p): Explained => ({
      peerId: null,
      name: p.publicKey,
      state: 'unknown',
      text: `${p.publicKey} is let in there, and is nobody of the plan.`,
      checks: ['An old key that was to be shut out? Load the configuration again.'],
    }))
  return { peers: [...peers, ...strangers], own }
}

const isSilent = (p: ShownPeer): boolean =>
  p.receivedOctets < HANDSHAKE_OCTETS && p.sentOctets < HANDSHAKE_OCTETS
