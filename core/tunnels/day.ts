/**
 * Tunnels on the day: packages where a host needs them, keys, the opening on every box on the way, the
 * name, then tried inside, then from outside, and only then handed out.
 */
import type { Day, DayPart } from '../bringup/day'
import { locationOf } from '../bringup/step'
import { inPlan, own } from '../plan'
import { listWords } from '../words'
import { followSeconds } from './names/follow'
import { reckonedTunnels, type ReckonedTunnel } from './reckoned'

/** Hands-on times, s (common practice). */
const PACKAGES_S = 600
const KEYS_S = 120
const OPEN_S = 300
const NAME_S = 300
const INSIDE_S = 300
const OUTSIDE_S = 600
const HAND_OUT_S = 180

type StepWords = NonNullable<Parameters<Day['add']>[0]['words']>
const SAFE_WAYS =
  'in person, by the picture on a screen, or by a link that opens once; never by mail or in a chat that stays'

/** IKEv2: nothing is public, and both ends have to say the same. */
const sharedWords = ({ tunnel: { ike }, peers }: ReckonedTunnel): StepWords => [
  ...peers.map(({ peer }) => ({
    label: peer.name,
    text: peer.sharedKeyRef ? 'the shared key is in the vault' : 'no shared key yet',
  })),
  { label: 'This end says', text: ike?.localId ?? 'nothing yet' },
  { label: 'It expects', text: ike?.remoteId ?? 'nothing yet' },
  { label: 'Proposal', text: ike ? `${ike.proposal}; ${ike.childProposal}` : 'not said yet' },
]

/** Each behind the one before. */
function chain(day: Day, r: ReckonedTunnel): string[] {
  const { model } = day
  const { tunnel, called } = r
  let last = day.after('bench', 'adopt', 'lay', 'cut over', 'connect')
  const add = (
    what: string,
    step: Omit<Parameters<Day['add']>[0], 'id' | 'kind' | 'needs'>,
  ): void => {
    last = [day.add({ ...step, id: `${tunnel.id}.${what}`, kind: `tunnel-${what}`, needs: last })]
  }
  const host = inPlan(model.plan.devices, tunnel.hostDeviceId)
  const at = { deviceId: host.id, locationId: locationOf(model, host) }
  if (!r.isOnGateway)
    add('packages', {
      ...at,
      title: `Put the packages of ${tunnel.name} on ${host.name}, and restart it`,
      workSeconds: PACKAGES_S,
      waitSeconds: model.profileOf(host.id).waits.bootSeconds,
      words: [
        {
          label: 'Packages',
          text: tunnel.protocol === 'ikev2' ? 'its IKEv2 daemon' : 'WireGuard tools',
        },
        { label: 'Then', text: 'restart: a kernel that was changed loads the module only then' },
        { label: 'Forwarding', text: 'IPv4 forwarding on, and kept over a restart' },
      ],
      ifExceeded: 'Look whether the module is there for the kernel that runs now.',
    })
  add('keys', {
    ...at,
    title: `Keys of ${tunnel.name}`,
    workSeconds: KEYS_S,
    words:
      tunnel.protocol === 'ikev2'
        ? sharedWords(r)
        : [
            { label: 'Public key', text: tunnel.publicKey ?? 'not made yet' },
            {
              label: 'Private half',
              text: tunnel.privateKeyRef
                ? 'in the vault; goes into the device by itself'
                : 'stays on the device',
            },
            ...r.peers.map(({ peer }) => ({
              label: peer.name,
              text: peer.publicKey ?? 'not here yet',
            })),
          ],
  })
  if (tunnel.kind === 'provider') {
    provider(r, add, model)
    return last
  }
  const port = called?.port ?? tunnel.listenPort
  const ports = tunnel.protocol === 'ikev2' ? '500 and 4500' : String(port)
  const taken =
    tunnel.protocol === 'ikev2' ? `${ports}, and ESP` : String(tunnel.listenPort ?? port)
  const isBehindRouter = model.lines.some((u) => u.portId && u.handOff.addressKind === 'private')
  if (port !== null)
    add('open', {
      ...at,
      title: `Open the way to ${tunnel.name} on every box`,
      workSeconds: OPEN_S,
      words: [
        ...(isBehindRouter
          ? [{ label: "Provider's router", text: `passes UDP ${ports} on to the gateway` }]
          : []),
        ...(r.isOnGateway
          ? [
              {
                label: 'Gateway',
                text: `takes in UDP ${taken}, by the rules that it has`,
              },
            ]
          : [{ label: 'Gateway', text: `leads UDP ${ports} to ${host.name}` }]),
      ],
      ifExceeded:
        'Look from outside whether something arrives at the line: count packets of that port.',
    })
  if (tunnel.endpointName && tunnel.dynamicName)
    add('name', {
      ...at,
      title: `See ${tunnel.endpointName} follow the address`,
      workSeconds: NAME_S,
      waitSeconds: Math.min(3600, followSeconds(tunnel.dynamicName).worst),
      words: [
        { label: 'Told', text: tunnel.dynamicName.server },
        {
          label: 'Seen by all after',
          text: `${followSeconds(tunnel.dynamicName).worst} s at most`,
        },
        { label: 'Twice', text: 'let the line sign in anew, and see the second change too' },
      ],
      ifExceeded: 'The first change needs no right key at some servers; the second shows it.',
    })
  const [first] = r.peers
  if (!first) return last
  if (r.isOnGateway && tunnel.kind === 'people')
    add('inside', {
      ...at,
      title: `Try ${tunnel.name} inside first, with ${first.peer.name}`,
      workSeconds: INSIDE_S,
      words: [
        {
          label: 'Endpoint',
          text: `the gateway's own address inside, UDP ${tunnel.listenPort ?? ''}`,
        },
        { label: 'Shows', text: 'keys and addresses; nothing of the port, a forward or the name' },
      ],
      ifExceeded: 'No handshake inside: keys, or the end is not switched on.',
    })
  add('outside', {
    ...at,
    title: `Try ${tunnel.name} from outside, over another line`,
    workSeconds: OUTSIDE_S,
    words: [
      { label: 'With', text: `${first.peer.name}, on a phone's own network` },
      ...(called ? [{ label: 'Calls', text: `${called.host}, UDP ${ports}` }] : []),
      {
        label: 'See',
        text: 'a handshake, this end, something inside, and what must not be reached',
      },
    ],
    ifExceeded: 'Print the state of the tunnel and read it in on Tunnels: it says what is wrong.',
  })
  if (tunnel.kind === 'people')
    add('hand-out', {
      ...at,
      title: `Hand out ${r.peers.length === 1 ? 'the file' : `${r.peers.length} files`} of ${tunnel.name}`,
      workSeconds: HAND_OUT_S * r.peers.length,
      words: [
        ...r.peers.map(({ peer }) => ({ label: peer.name, text: 'a file of its own' })),
        { label: 'How', text: SAFE_WAYS },
      ],
    })
  return last
}

function provider(
  { tunnel, peers }: ReckonedTunnel,
  add: (what: string, step: Omit<Parameters<Day['add']>[0], 'id' | 'kind' | 'needs'>) => void,
  { plan }: Day['model'],
): void {
  const through = tunnel.throughIds.map(
    (id) => own(plan.devices, id)?.name ?? own(plan.segments, id)?.name ?? id,
  )
  add('leak', {
    title: `See who leaves through ${tunnel.name}, and who does not`,
    workSeconds: OUTSIDE_S,
    words: [
      { label: 'Comes out there', text: through.length > 0 ? listWords(through) : 'nobody' },
      { label: 'Server', text: peers[0]?.peer.endpoint?.host ?? 'not known yet' },
      {
        label: 'By the line',
        text: 'everybody else: look at the address that a page outside sees',
      },
      {
        label: 'While it is down',
        text:
          tunnel.whenDown === 'blocked' ? 'they reach nothing outside' : 'they leave by the line',
      },
    ],
    ifExceeded:
      'The same address at both: nobody goes through. Look at the routes, and at addresses reserved.',
  })
}

export const tunnelsDay: readonly DayPart[] = [
  {
    phase: 'let in',
    steps: (day) => reckonedTunnels(day.model).flatMap((r) => chain(day, r)),
  },
]
