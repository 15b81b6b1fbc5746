/** Hosts that are off, and cables: exchanged, cut, without a tag. */
import { containsAddress, parseAddress, parsePrefix } from '../addressing'
import type { Device } from '../plan'
import { cablePath } from './needs'
import type { SiteModel } from './siteModel'
import type { ProofResult } from '../proof/judge'
import {
  about,
  ids,
  wayTo,
  portState,
  type Cause,
  type CauseFinder,
  type Evidence,
  type WayHop,
  type SiteFacts,
} from '../proof/cause'

function hostsOff({ model, wrong }: Evidence): Cause[] {
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
      explains: ids(about(wrong, off)),
    },
  ]
}

function swappedCables({ model, results, wrong, facts }: Evidence): Cause[] {
  const leases = results.filter((r) => r.test.kind === 'lease' && r.observation?.address)
  const astray = leases.flatMap((r) => {
    const got = segmentAt(model, r.observation!.address)
    return got && got !== r.test.fromPlace
      ? [
          {
            host: model.device(r.test.from),
            address: r.observation!.address!,
            got,
            planned: r.test.fromPlace,
          },
        ]
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
        about(
          wrong,
          hosts.map((h) => h.id),
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
          `${a.host.name} has an address of ${model.segment(a.got).name}, ` +
            `${b.host.name} one of ${model.segment(b.got).name}`,
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
          `it has an address of ${model.segment(a.got).name}`,
        ],
        checks: [
          'Follow its cable to the socket and move the plug.',
          'Let it ask for an address again.',
        ],
        explains: affected([a.host]),
        subjects: [a.host.id, planned, heard],
      })
    } else {
      used.add(a.host.id)
      const [is, should] = [model.segment(a.got).name, model.segment(a.planned as string).name]
      out.push({
        kind: 'wrong-segment',
        text: a.host.wirelessNetworkId
          ? `${a.host.name} is in ${is} instead of ${should}: it joined another network, or its network leads there.`
          : `${a.host.name} is in ${is} instead of ${should}: its plug is in a socket of ${is}` +
            `${planned ? `, or ${model.portName(planned)} leads there` : ''}.`,
        evidence: [
          `it has the address ${a.address}, of ${is}`,
          ...(planned && heard === planned ? [`it is heard at ${model.portName(planned)}`] : []),
        ],
        checks: a.host.wirelessNetworkId
          ? [
              'Look which network it joined.',
              `Read the VLAN of that network on the access point: it should be ${model.vlanName(a.planned as string)}.`,
            ]
          : [
              'Follow its cable to the socket.',
              `Read the untagged VLAN of that socket: it should be ${model.vlanName(a.planned as string)}.`,
              'Let it ask for an address again.',
            ],
        explains: affected([a.host]),
        subjects: [a.host.id, ...(planned ? [planned] : [])],
      })
    }
  }
  return out
}

/**
 * Segments that die on one cable while others pass it: a missing tag. All die: the cable itself.
 */
function lostOnTheWay({ model, results, wrong, facts }: Evidence): Cause[] {
  const leases = results.filter((r) => r.test.kind === 'lease')
  const failed = leases.filter((r) => r.observation?.outcome === 'no-lease')
  const bySegment = new Map<string, ProofResult[]>()
  for (const r of failed)
    bySegment.set(r.test.fromPlace, [...(bySegment.get(r.test.fromPlace) ?? []), r])
  const out: Cause[] = []
  for (const [segmentId, lost] of bySegment) {
    const ways = lost.map((r) => wayTo(model, model.device(r.test.from)))
    const shared = (ways[0] ?? []).filter((hop) =>
      ways.every((w) => w.some((x) => x.inPortId === hop.inPortId)),
    )
    const over = (r: ProofResult, hop: WayHop): boolean =>
      r.test.kind === 'service'
        ? (cablePath(model, r.test.from) ?? []).some(([, into]) => into.id === hop.inPortId)
        : wayTo(model, model.device(r.test.from)).some((x) => x.inPortId === hop.inPortId)
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
      const port = model.port(hop.outPortId)
      return (
        port.taggedSegmentIds.includes(segmentId) ||
        model.port(hop.inPortId).taggedSegmentIds.includes(segmentId)
      )
    }
    const trunks = suspects.filter((hop) => isTrunk(hop) && passing(hop).length > 0).reverse()
    const dark = suspects.find((hop) => portState(facts, hop.outPortId)?.up === false)
    const trunk = dark
      ? undefined
      : (unheard(
          trunks,
          facts,
          lost.flatMap((r) => model.device(r.test.from).hardwareAddress ?? []),
        ) ?? trunks[0])
    const hop = dark ?? trunk ?? suspects.at(-1)
    if (!hop) continue
    const hosts = new Set(lost.map((l) => l.test.from))
    const explains = ids(about(wrong, hosts))
    const between = (h: WayHop): string =>
      `${model.portName(h.outPortId)} and ${model.portName(h.inPortId)}`
    const evidence = [
      ...(dark ? [`${model.portName(dark.outPortId)} reports no signal`] : []),
      `${lost.length} ${lost.length === 1 ? 'host' : 'hosts'} of ` +
        `${model.segment(segmentId).name} behind it got no lease`,
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

export const wiringCauses: readonly CauseFinder[] = [
  { turn: 60, find: hostsOff },
  { turn: 70, find: swappedCables },
  { turn: 80, find: lostOnTheWay },
]
