/** The line: dead, handed off otherwise, refusing, or smaller than said. */
import type { Uplink } from '../plan'
import {
  ids,
  isOfTunnel,
  type Cause,
  type CauseFinder,
  type Evidence,
  type ReportedDevice,
} from '../proof/cause'
import type { ProofResult } from '../proof/judge'

/** Each line that goes into a socket; where nothing gets out, none of them carries. */
function lineCauses(evidence: Evidence): Cause[] {
  const { model, results, facts } = evidence
  const wrong = results.filter((r) => r.verdict !== 'as-planned')
  const near = wrong.filter(
    (r) =>
      !isOfTunnel(model, r) &&
      (r.test.toPlace === 'internet' || r.test.kind === 'name' || r.test.from === 'internet'),
  )
  if (!near.some((r) => r.test.expected === 'works')) return []
  // No tunnel comes up without a line.
  const outward = [...near, ...wrong.filter((r) => isOfTunnel(model, r))]
  const reported = facts.devices.find((d) => d.deviceId === model.gateway?.id)?.lines ?? []
  return model.lines.flatMap((uplink) => {
    const port = uplink.portId ? model.plan.ports[uplink.portId]?.name : undefined
    const line = reported.find((l) => l.port === port)
    return line ? causesOfOne(evidence, uplink, line, outward) : []
  })
}

function causesOfOne(
  { model, results }: Evidence,
  uplink: Uplink,
  line: ReportedDevice['lines'][number],
  outward: readonly ProofResult[],
): Cause[] {
  const subjects = [uplink.id]
  if (!line.up)
    return [
      {
        kind: 'dead-line',
        text: `${uplink.name} is dead: there is no signal on the gateway's socket.`,
        evidence: [
          'the gateway reports its line as down',
          `${outward.length} tests towards the internet fail`,
        ],
        checks: [
          "Look at the plug and the lamp of the provider's box.",
          'Try the old router on the same cable.',
          'Ring the provider with the time at which it went down.',
        ],
        explains: ids(outward),
        subjects,
      },
    ]
  if (line.address) {
    // One host that fails is that host's matter; when nobody gets beyond, it is the line's.
    const beyond = results.filter(
      (r) =>
        !isOfTunnel(model, r) &&
        r.test.expected === 'works' &&
        r.test.toPlace === 'internet' &&
        r.verdict !== 'untested',
    )
    if (beyond.length < 2 || beyond.some((r) => r.verdict === 'as-planned')) return []
    return [
      {
        kind: 'no-route',
        text: `${uplink.name} has an address, ${line.address}, and nothing beyond it answers.`,
        evidence: [
          'the gateway reports its line as up, with an address',
          `all ${beyond.length} tests towards the internet fail, from every segment`,
        ],
        checks: [
          'Look whether the gateway has a default route by this line, and to which address.',
          "Ask the provider's own router from the gateway; then something beyond it.",
          'Ask the provider whether the account is barred: many give an address all the same.',
        ],
        explains: ids(outward),
        subjects,
      },
    ]
  }
  if (uplink.handOff.mode === 'pppoe' && line.signIn === 'refused')
    return [
      {
        kind: 'sign-in',
        text: `The provider refuses the sign-in on ${uplink.name}: the user name or the password is wrong.`,
        evidence: [
          'it answers to the search for its server, so that tag and cable are right',
          'it says no to name and password',
        ],
        checks: [
          "Compare user name and password with the provider's letter, letter by letter.",
          'Ask whether the old router is still signed in: some accounts take one session.',
          'Let the provider set a new password; enter it in Survey.',
        ],
        explains: ids(outward),
        subjects,
      },
    ]
  const tag =
    uplink.handOff.vlan === 'untagged' ? 'without a tag' : `with tag ${uplink.handOff.vlan}`
  return [
    {
      kind: 'hand-off',
      text: `The provider does not answer on ${uplink.name} ${tag}: the tag on the hand-off is probably another.`,
      evidence: [
        'the line has a signal but the gateway got no address on it',
        `${outward.length} tests towards the internet fail`,
      ],
      checks: [
        "Read tag and priority again from the old router or the provider's letter.",
        'Ask whether the provider pinned a hardware address.',
        'Record the right tag in Survey; the gateway fetches it by itself.',
      ],
      explains: ids(outward),
      subjects,
    },
  ]
}

/** Small packets pass the line, the largest that it is said to carry do not. */
function packetSize({ model, results }: Evidence): Cause[] {
  const large = results.filter(
    (r) =>
      r.test.probe?.octets &&
      r.test.probe.target?.kind === 'internet' &&
      r.verdict === 'contradicts',
  )
  const small = results.find((r) => r.test.id === 'gateway>internet:ping:')
  if (large.length === 0 || small?.verdict !== 'as-planned' || !model.wayOut) return []
  const octets = large[0]!.test.probe!.octets!
  const isSaid = large.some((r) => r.observation?.outcome === 'too-big')
  return [
    {
      kind: 'packet-size',
      text:
        `${model.wayOut.name} does not carry packets of ${octets} octets ` +
        `whole${isSaid ? '' : ', and says nothing of it'}: its MTU is smaller than recorded.`,
      evidence: [
        'small packets are answered',
        `${large.length === 1 ? 'one' : large.length} of ${octets} octets ${large.length === 1 ? 'is' : 'are'} not`,
      ],
      checks: [
        'Send pings that must not be taken apart, smaller by half of the rest each time, until they pass.',
        'Record that size as the MTU of the line in Survey: TCP is then told so from the start.',
        'Ask the provider whether the line signs in by PPPoE or runs in a tunnel of theirs.',
      ],
      explains: ids(large),
      subjects: [model.wayOut.id],
    },
  ]
}

export const uplinksCauses: readonly CauseFinder[] = [
  { turn: 30, find: lineCauses },
  { turn: 40, find: packetSize },
]
