/**
 * C-80: results that contradict the plan, and their most likely causes in the order in which to
 * check. A cause is named from the
 * pattern of what fails and what does not, and from what the devices report; each says what speaks
 * for it and how to make sure.
 */
import { containsAddress, parseAddress, parsePrefix } from '../addressing'
import { nearestSerial, type AdoptionState } from '../adoption'
import type { Device } from '../plan'
import { cablePath, type SiteModel } from '../topology'
import type { ProofResult } from './judge'

export interface ReportedDevice {
  readonly deviceId: string
  readonly state: AdoptionState
  readonly ports: readonly {
    readonly name: string
    readonly up: boolean
    readonly heard: readonly string[]
  }[]
  readonly line: {
    readonly up: boolean
    readonly address: string | null
    readonly signIn?: 'unanswered' | 'refused' | 'accepted' | null
  } | null
}
export interface ForeignDevice {
  readonly serial: string
  readonly hardwareAddress: string
  readonly model: string
}
export interface SiteFacts {
  readonly devices: readonly ReportedDevice[]
  readonly foreign: readonly ForeignDevice[]
}

export type CauseKind =
  | 'host-off'
  | 'dead-line'
  | 'hand-off'
  | 'sign-in'
  | 'no-route'
  | 'packet-size'
  | 'rogue-server'
  | 'swapped-cables'
  | 'missing-tag'
  | 'mistyped-serial'
  | 'device-missing'
  | 'drift'
  | 'cut-cable'
  | 'rules'
export interface Cause {
  readonly kind: CauseKind
  readonly text: string
  /** What speaks for it. */
  readonly evidence: readonly string[]
  /** What to do to make sure, in order. */
  readonly checks: readonly string[]
  readonly explains: readonly string[]
  readonly subjects: readonly string[]
}

export function causesOf(
  model: SiteModel,
  results: readonly ProofResult[],
  facts: SiteFacts,
): Cause[] {
  const wrong = results.filter((r) => r.verdict !== 'as-planned')
  if (wrong.length === 0) return []
  const found = [
    ...mistypedSerials(model, wrong, facts),
    ...missingDevices(model, wrong, facts),
    ...lineCauses(model, results, facts),
    ...packetSize(model, results),
    ...rogueServers(model, results),
    ...hostsOff(model, wrong),
    ...swappedCables(model, results, facts),
    ...lostOnTheWay(model, results, facts),
    ...drifts(model, wrong, facts),
  ]
  const explained = new Set(found.flatMap((c) => c.explains))
  const rest = wrong.filter((r) => r.verdict === 'contradicts' && !explained.has(r.test.id))
  if (rest.length > 0) found.push(rulesDiffer(rest))
  return found.filter((c) => c.explains.length > 0)
}

const ids = (results: readonly ProofResult[]): string[] => results.map((r) => r.test.id)
const stateOf = (facts: SiteFacts, id: string): AdoptionState =>
  facts.devices.find((d) => d.deviceId === id)?.state ?? 'planned'

/** What fails for a host behind a device, or to one. */
function behind(model: SiteModel, wrong: readonly ProofResult[], deviceId: string): ProofResult[] {
  const hosts = new Set(model.devices.filter((d) => passes(model, d, deviceId)).map((d) => d.id))
  return wrong.filter(
    (r) =>
      r.test.from === deviceId ||
      hosts.has(r.test.from) ||
      (r.test.probe?.target?.kind === 'host' && hosts.has(r.test.probe.target.deviceId)),
  )
}

/** Whether the way from the gateway to a host goes through a device. */
function passes(model: SiteModel, host: Device, deviceId: string): boolean {
  return wayTo(model, host).some((hop) => hop.deviceId === deviceId)
}
interface WayHop {
  readonly deviceId: string
  readonly outPortId: string
  readonly inPortId: string
}
function wayTo(model: SiteModel, host: Device): WayHop[] {
  const network = host.wirelessNetworkId
    ? model.plan.wirelessNetworks[host.wirelessNetworkId]
    : undefined
  const ends = network ? network.accessPointIds : [host.id]
  return ends.flatMap((end) =>
    (cablePath(model, end) ?? []).map(([out, into]) => ({
      deviceId: into.deviceId,
      outPortId: out.id,
      inPortId: into.id,
    })),
  )
}

function mistypedSerials(
  model: SiteModel,
  wrong: readonly ProofResult[],
  facts: SiteFacts,
): Cause[] {
  return facts.foreign.flatMap((f): Cause[] => {
    const missing = model.devices.filter(
      (d) => d.serial && model.profileOf(d.id).adoptable && stateOf(facts, d.id) !== 'in-service',
    )
    const byAddress = missing.find((d) => d.hardwareAddress === f.hardwareAddress)
    const near = nearestSerial(
      f.serial,
      missing.map((d) => d.serial!),
    )
    const device = byAddress ?? missing.find((d) => d.serial === near?.serial)
    if (!device) return []
    const distance = near && near.serial === device.serial ? near.distance : undefined
    return [
      {
        kind: 'mistyped-serial',
        text:
          `The serial of ${device.name} was mistyped: the plan has ${device.serial}, a device ` +
          `calls as ${f.serial}.`,
        evidence: [
          ...(byAddress ? [`it has the hardware address that is planned for ${device.name}`] : []),
          ...(distance
            ? [`the two differ in ${distance} ${distance === 1 ? 'place' : 'places'}`]
            : []),
          `${device.name} itself does not call`,
        ],
        checks: [
          'Compare both with the label on the housing, letter by letter.',
          `Correct the serial of ${device.name} in Survey, then claim it.`,
        ],
        explains: ids(behind(model, wrong, device.id)),
        subjects: [device.id],
      },
    ]
  })
}

function missingDevices(
  model: SiteModel,
  wrong: readonly ProofResult[],
  facts: SiteFacts,
): Cause[] {
  return model.devices.flatMap((d): Cause[] => {
    const state = stateOf(facts, d.id)
    if (!model.profileOf(d.id).adoptable || state === 'in-service' || state === 'drifted') return []
    if (
      facts.foreign.some(
        (f) => f.hardwareAddress === d.hardwareAddress || nearestSerial(f.serial, [d.serial ?? '']),
      )
    )
      return []
    return [
      {
        kind: 'device-missing',
        text: `${d.name} is not in service (${state}).`,
        evidence: [`the controller has it as ${state}`],
        checks: [
          'Read its lamp with the decoder in Bring-up.',
          'Look at its power, then its cable.',
          'Look in Adopt at what it waits for.',
        ],
        explains: ids(behind(model, wrong, d.id)),
        subjects: [d.id],
      },
    ]
  })
}

function lineCauses(model: SiteModel, results: readonly ProofResult[], facts: SiteFacts): Cause[] {
  const wrong = results.filter((r) => r.verdict !== 'as-planned')
  const uplink = model.uplink
  const line = facts.devices.find((d) => d.deviceId === model.gateway?.id)?.line
  const outward = wrong.filter(
    (r) => r.test.toPlace === 'internet' || r.test.kind === 'name' || r.test.from === 'internet',
  )
  if (!uplink || !line || outward.length === 0 || !outward.some((r) => r.test.expected === 'works'))
    return []
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
        r.test.expected === 'works' && r.test.toPlace === 'internet' && r.verdict !== 'untested',
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

/** Hosts that somebody else gave an address to, or offered one. */
function rogueServers(model: SiteModel, results: readonly ProofResult[]): Cause[] {
  const hit = results.filter(
    (r) =>
      r.test.kind === 'lease' &&
      r.verdict === 'contradicts' &&
      r.test.server !== null &&
      r.observation?.servers?.some((s) => s !== r.test.server),
  )
  const servers = [
    ...new Set(hit.flatMap((r) => r.observation!.servers.filter((s) => s !== r.test.server))),
  ]
  // A server of another segment is a cable in the wrong socket.
  return servers
    .filter(
      (s) =>
        !model.segments.some(
          (x) => x.gateway === s || (x.dhcp.mode === 'relay' && x.dhcp.relayTo === s),
        ),
    )
    .map((server): Cause => {
      const of = hit.filter((r) => r.observation!.servers.includes(server))
      const hosts = new Set(of.map((r) => r.test.from))
      const suspects = model.devices.filter((d) => {
        const f = model.profileOf(d.id).factory
        return (
          f.dhcp === 'server' && f.address?.split('/')[0] === server && d.id !== model.gateway?.id
        )
      })
      const places = [
        ...new Set(of.map((r) => model.plan.segments[r.test.fromPlace]?.name ?? r.test.fromPlace)),
      ]
      return {
        kind: 'rogue-server',
        text:
          `${server} hands out leases in ${places.join(', ')}, and is no server of this ` +
          'site' +
          (suspects.length > 0
            ? `: probably ${suspects.map((d) => d.name).join(' or ')}, still as from its box`
            : '') +
          '.',
        evidence: [
          `${of.length} ${of.length === 1 ? 'host heard' : 'hosts heard'} its offer`,
          ...of
            .filter((r) => r.observation!.address)
            .slice(0, 2)
            .map((r) => `${model.plan.devices[r.test.from]!.name} has ${r.observation!.address}`),
        ],
        checks: [
          'Look where its hardware address is heard: the ports of the switches say it.',
          'Unplug it, and let the hosts ask for an address again.',
          'Set it up alone, switch its lease server off, and plug it in again.',
        ],
        explains: ids(
          results.filter(
            (r) =>
              r.verdict !== 'as-planned' &&
              (hosts.has(r.test.from) ||
                (r.test.probe?.target?.kind === 'host' && hosts.has(r.test.probe.target.deviceId))),
          ),
        ),
        subjects: suspects.map((d) => d.id),
      }
    })
}

/** Small packets pass the line, the largest that it is said to carry do not. */
function packetSize(model: SiteModel, results: readonly ProofResult[]): Cause[] {
  const large = results.filter((r) => r.test.probe?.octets && r.verdict === 'contradicts')
  const small = results.find((r) => r.test.id === 'gateway>internet:ping:')
  if (large.length === 0 || small?.verdict !== 'as-planned' || !model.uplink) return []
  const octets = large[0]!.test.probe!.octets!
  const isSaid = large.some((r) => r.observation?.outcome === 'too-big')
  return [
    {
      kind: 'packet-size',
      text:
        `${model.uplink.name} does not carry packets of ${octets} octets ` +
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
      subjects: [model.uplink.id],
    },
  ]
}

function hostsOff(model: SiteModel, wrong: readonly ProofResult[]): Cause[] {
  const off = [
    ...new Set(wrong.filter((r) => r.observation?.outcome === 'off').map((r) => r.test.from)),
  ]
  if (off.length === 0) return []
  const names = off.map((id) => model.plan.devices[id]?.name ?? id)
  return [
    {
      kind: 'host-off',
      text: `${names.join(', ')} ${off.length === 1 ? 'is' : 'are'} switched off or not there.`,
      evidence: ['nothing could be asked from there'],
      checks: [
        'Switch on and connect the hosts (last step of the run sheet).',
        'Then try again what failed.',
      ],
      subjects: off,
      explains: ids(
        wrong.filter(
          (r) =>
            off.includes(r.test.from) ||
            (r.test.probe?.target?.kind === 'host' && off.includes(r.test.probe.target.deviceId)),
        ),
      ),
    },
  ]
}

/** The segment that an observed address belongs to. */
function segmentAt(model: SiteModel, text: string | null): string | undefined {
  const a = text ? parseAddress(text) : undefined
  return (
    a &&
    model.segments.find((s) => {
      const p = s.subnet ? parsePrefix(s.subnet) : undefined
      return p && containsAddress(p, a)
    })?.id
  )
}

function swappedCables(
  model: SiteModel,
  results: readonly ProofResult[],
  facts: SiteFacts,
): Cause[] {
  const leases = results.filter((r) => r.test.kind === 'lease' && r.observation?.address)
  const astray = leases.flatMap((r) => {
    const got = segmentAt(model, r.observation!.address)
    return got && got !== r.test.fromPlace
      ? [{ host: model.plan.devices[r.test.from]!, got, planned: r.test.fromPlace }]
      : []
  })
  const out: Cause[] = []
  const used = new Set<string>()
  const wiredTo = (h: Device): string | undefined =>
    model
      .portsOf(h.id)
      .map((p) => model.peerOf(p.id)?.id)
      .find((p) => p)
  const heardAt = (h: Device): string | undefined => {
    // A trunk hears every host behind it; the port that hears the fewest is the nearest.
    const ports = facts.devices.flatMap((d) =>
      d.ports
        .filter((p) => h.hardwareAddress && p.heard.includes(h.hardwareAddress))
        .map((p) => ({ id: `${d.deviceId}.${p.name}`, crowd: p.heard.length })),
    )
    return ports.sort((a, b) => a.crowd - b.crowd)[0]?.id
  }
  for (const a of astray) {
    if (used.has(a.host.id)) continue
    const b = astray.find(
      (x) => x !== a && !used.has(x.host.id) && x.got === a.planned && x.planned === a.got,
    )
    const planned = wiredTo(a.host)
    const heard = heardAt(a.host)
    const affected = (hosts: readonly Device[]): string[] =>
      ids(
        results.filter(
          (r) =>
            r.verdict !== 'as-planned' &&
            hosts.some(
              (h) =>
                r.test.from === h.id ||
                (r.test.probe?.target?.kind === 'host' && r.test.probe.target.deviceId === h.id),
            ),
        ),
      )
    if (b) {
      used.add(a.host.id).add(b.host.id)
      const [pa, pb] = [wiredTo(a.host), wiredTo(b.host)]
      out.push({
        kind: 'swapped-cables',
        text:
          `The cables of ${a.host.name} and ${b.host.name} are ` +
          `exchanged${pa && pb ? `: ${model.portName(pa)} and ${model.portName(pb)}` : ''}.`,
        evidence: [
          `${a.host.name} has an address of ${model.plan.segments[a.got]!.name}, ` +
            `${b.host.name} one of ${model.plan.segments[b.got]!.name}`,
          ...(heard && heard !== planned
            ? [`${a.host.name} is heard at ${model.portName(heard)}`]
            : []),
        ],
        checks: [
          'Follow both cables to their sockets and exchange them.',
          'Let both hosts ask for an address again.',
        ],
        explains: affected([a.host, b.host]),
        subjects: [a.host.id, b.host.id, ...(pa ? [pa] : []), ...(pb ? [pb] : [])],
      })
    } else if (heard && planned && heard !== planned) {
      used.add(a.host.id)
      out.push({
        kind: 'swapped-cables',
        text: `${a.host.name} is plugged into ${model.portName(heard)} instead of ${model.portName(planned)}.`,
        evidence: [
          `its hardware address is heard there`,
          `it has an address of ${model.plan.segments[a.got]!.name}`,
        ],
        checks: [
          'Follow its cable to the socket and move the plug.',
          'Let it ask for an address again.',
        ],
        explains: affected([a.host]),
        subjects: [a.host.id, planned, heard],
      })
    }
  }
  return out
}

/**
 * Segments that die on one cable while others pass it: a missing tag. All die: the cable itself.
 */
function lostOnTheWay(
  model: SiteModel,
  results: readonly ProofResult[],
  facts: SiteFacts,
): Cause[] {
  const leases = results.filter((r) => r.test.kind === 'lease')
  const failed = leases.filter((r) => r.observation?.outcome === 'no-lease')
  const bySegment = new Map<string, ProofResult[]>()
  for (const r of failed)
    bySegment.set(r.test.fromPlace, [...(bySegment.get(r.test.fromPlace) ?? []), r])
  const out: Cause[] = []
  for (const [segmentId, lost] of bySegment) {
    const ways = lost.map((r) => wayTo(model, model.plan.devices[r.test.from]!))
    const shared = (ways[0] ?? []).filter((hop) =>
      ways.every((w) => w.some((x) => x.inPortId === hop.inPortId)),
    )
    const over = (r: ProofResult, hop: WayHop): boolean =>
      r.test.kind === 'service'
        ? (cablePath(model, r.test.from) ?? []).some(([, into]) => into.id === hop.inPortId)
        : wayTo(model, model.plan.devices[r.test.from]!).some((x) => x.inPortId === hop.inPortId)
    const fine = results.filter(
      (r) => (r.test.kind === 'lease' || r.test.kind === 'service') && r.verdict === 'as-planned',
    )
    const suspects = shared.filter(
      (hop) =>
        !fine.some(
          (r) => r.test.fromPlace === segmentId && r.test.kind === 'lease' && over(r, hop),
        ),
    )
    const passing = (hop: WayHop): ProofResult[] =>
      fine.filter((r) => r.test.fromPlace !== segmentId && over(r, hop))
    const isTrunk = (hop: WayHop): boolean => {
      const port = model.plan.ports[hop.outPortId]!
      return (
        port.taggedSegmentIds.includes(segmentId) ||
        model.plan.ports[hop.inPortId]!.taggedSegmentIds.includes(segmentId)
      )
    }
    const trunks = suspects.filter((hop) => isTrunk(hop) && passing(hop).length > 0).reverse()
    const dark = suspects.find((hop) => portState(facts, hop.outPortId)?.up === false)
    const trunk = dark
      ? undefined
      : (unheard(
          trunks,
          facts,
          lost.flatMap((r) => model.plan.devices[r.test.from]!.hardwareAddress ?? []),
        ) ?? trunks[0])
    const hop = dark ?? trunk ?? suspects.at(-1)
    if (!hop) continue
    const hosts = new Set(lost.map((l) => l.test.from))
    const explains = ids(
      results.filter(
        (r) =>
          r.verdict !== 'as-planned' &&
          (hosts.has(r.test.from) ||
            (r.test.probe?.target?.kind === 'host' && hosts.has(r.test.probe.target.deviceId))),
      ),
    )
    const between = (h: WayHop): string =>
      `${model.portName(h.outPortId)} and ${model.portName(h.inPortId)}`
    const evidence = [
      ...(dark ? [`${model.portName(dark.outPortId)} reports no signal`] : []),
      `${lost.length} ${lost.length === 1 ? 'host' : 'hosts'} of ` +
        `${model.plan.segments[segmentId]!.name} behind it got no lease`,
    ]
    if (trunk) {
      const others = [
        ...new Set(passing(trunk).map((r) => model.plan.segments[r.test.fromPlace]?.name ?? '')),
      ].filter(Boolean)
      const more = trunks.filter((h) => h !== trunk)
      out.push({
        kind: 'missing-tag',
        text:
          `${model.vlanName(segmentId)} has no tag between ` +
          `${between(trunk)}${more.length > 0 ? ` (or, less likely, ${more.map(between).join(', or ')})` : ''}.`,
        evidence: [
          ...evidence,
          `${others.join(', ')} ${others.length === 1 ? 'passes' : 'pass'} the same cable`,
        ],
        checks: [
          `Read the tags of ${between(trunk)} on the devices themselves.`,
          ...more.map((h) => `Then those of ${between(h)}.`),
          'Load the configuration again from Adopt.',
        ],
        explains,
        subjects: [trunk.outPortId, trunk.inPortId, segmentId],
      })
    } else
      out.push({
        kind: 'cut-cable',
        text: `Nothing passes between ${between(hop)}.`,
        evidence,
        checks: [
          'Look at the lamps of both sockets.',
          'Try another cable.',
          `Look whether ${model.portName(hop.outPortId)} carries ${model.vlanName(segmentId)}.`,
        ],
        explains,
        subjects: [hop.outPortId, hop.inPortId],
      })
  }
  return out
}

/** What a device last reported of one of its ports. */
function portState(facts: SiteFacts, portId: string): ReportedDevice['ports'][number] | undefined {
  const dot = portId.lastIndexOf('.')
  return facts.devices
    .find((d) => d.deviceId === portId.slice(0, dot))
    ?.ports.find((p) => p.name === portId.slice(dot + 1))
}

/**
 * The outermost hop whose device on the gateway's side does not hear the hosts, where those further
 * out do. Undefined where all hear them.
 */
function unheard(
  hopsFromOutside: readonly WayHop[],
  facts: SiteFacts,
  addresses: readonly string[],
): WayHop | undefined {
  return hopsFromOutside.find((hop) => {
    const port = portState(facts, hop.outPortId)
    return port !== undefined && !addresses.some((a) => port.heard.includes(a))
  })
}

function drifts(model: SiteModel, wrong: readonly ProofResult[], facts: SiteFacts): Cause[] {
  return facts.devices
    .filter((d) => d.state === 'drifted' && model.plan.devices[d.deviceId])
    .map((d): Cause => ({
      kind: 'drift',
      text: `${model.plan.devices[d.deviceId]!.name} runs another configuration than planned.`,
      evidence: ["the digest that it reports differs from the plan's"],
      checks: ['Load the plan again from Adopt.', 'Or take the change over into the plan.'],
      explains: ids(behind(model, wrong, d.deviceId)),
      subjects: [d.deviceId],
    }))
}

function rulesDiffer(rest: readonly ProofResult[]): Cause {
  const open = rest.filter((r) => r.test.expected === 'blocked').length
  return {
    kind: 'rules',
    text:
      open > 0
        ? `${open} ${open === 1 ? 'connection that must not work works' : 'connections that must not work work'}: ` +
          'the gateway does not run the rules of this plan.'
        : 'The hosts have their addresses, but connections between them fail.',
    evidence: rest.slice(0, 4).map((r) => `${r.test.title}: ${r.observed}`),
    checks: [
      'Compare wanted and running configuration of the gateway in Adopt.',
      'Look for a firewall on the asked host itself.',
      'Trace the pair in Policy and read the rule that decides.',
    ],
    explains: ids(rest),
    subjects: [],
  }
}
