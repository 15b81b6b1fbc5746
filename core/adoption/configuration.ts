/**
 * The configuration that a device should run, made from the plan. The key of a wireless network
 * comes from the vault.
 */
import type {
  AccessPointConfiguration,
  BridgeRadioConfiguration,
  Configuration,
  GatewayConfiguration,
  SwitchConfiguration,
} from '@mast/protocol'
import { parsePrefix } from '../addressing'
import {
  ANYWHERE,
  digestOf,
  hasKnownAddress,
  inPlan,
  lineMtuOf,
  MANAGED,
  own,
  piecesOf,
  settingsOf,
  type Ability,
  type Device,
  type Portal,
  type Segment,
  type Uplink,
} from '../plan'
import { setUpOf } from '../bringup/schools/school'
import { SITE_PASSWORD } from '../bringup/step'
import { CONTROLLER_NAME, hostLabel, hostNames, nameServersOf } from '../naming'
import {
  compilePolicy,
  decideService,
  LINE,
  mayAdminister,
  segmentSizeOf,
  type Zone,
} from '../policy'
import { carriageOf, isolationOf, portRolesOf, spanningTreeOf, type SiteModel } from '../topology'
import { choicesInOrder } from '../uplinks'
import { dynamicNames, gatewayTunnels, routesToTunnels } from './gatewayTunnels'

/** Where device pages answer (HTTPS; common practice of devices with a page). */
const PAGE_PORT = 443

export type Secrets = Readonly<Record<string, string>>
export interface DesiredConfiguration {
  readonly configuration: Configuration
  readonly digest: string
}

/**
 * The exact address to give to devices: no path, no slash at the end. Null while the controller has
 * no address.
 */
export function controllerUrl(model: SiteModel): string | null {
  const { controllerPlace: place } = model
  const { port } = model.plan.controller
  if (place?.kind === 'internet') return `https://${place.name}:${port}`
  return place?.address ? `http://${place.address}:${port}` : null
}

/**
 * Where devices from their box ask by RFC 8572. Null where nobody answers them, or has no address.
 */
export function bootstrapUrl({ controllerPlace: place, plan }: SiteModel): string | null {
  const { bootstrap } = plan.controller
  const host = place?.kind === 'internet' ? place.name : place?.address
  return bootstrap && host ? `https://${host}:${bootstrap.port}` : null
}

/** Null of one on the internet, which is found by its name. */
export function controllerAddress({ controllerPlace: place }: SiteModel): string | null {
  return place && place.kind !== 'internet' ? place.address : null
}

export type DesiredOutcome =
  { ok: true; desired: DesiredConfiguration } | { ok: false; missing: string[] }

/** The configuration and its digest, or what is missing for it, in words. */
export function desiredConfiguration(
  model: SiteModel,
  deviceId: string,
  secrets: Secrets,
): DesiredOutcome {
  const device = own(model.plan.devices, deviceId)
  if (!device) return { ok: false, missing: [`there is no device '${deviceId}'`] }
  const missing: string[] = []
  const kind = model.profileOf(deviceId).kind
  const configuration =
    kind === 'gateway'
      ? gateway(model, device, secrets, missing)
      : kind === 'switch'
        ? switchOf(model, device, secrets, missing)
        : kind === 'access-point'
          ? accessPoint(model, device, secrets, missing)
          : kind === 'bridge-radio'
            ? bridgeRadio(model, device, secrets, missing)
            : undefined
  if (!configuration)
    return { ok: false, missing: [`${device.name} takes no configuration from a controller`] }
  return missing.length > 0
    ? { ok: false, missing }
    : { ok: true, desired: { configuration, digest: digestOf(configuration) } }
}

function ports(model: SiteModel, device: Device): SwitchConfiguration['ports'] {
  const vlanOf = (id: string): number => model.segment(id).vlanId
  const isolated = isolationOf(model).ports
  return model
    .portsOf(device.id)
    .filter((p) => model.profilePortOf(p.id).role !== 'wan')
    .map((p) => ({
      name: p.name,
      untagged: p.untaggedSegmentId ? vlanOf(p.untaggedSegmentId) : null,
      tagged: p.taggedSegmentIds.map(vlanOf).sort((a, b) => a - b),
      isolated: [...(isolated.get(p.id) ?? [])].sort((a, b) => a - b),
      ...guards(model, device, p.id),
    }))
}

/**
 * Broadcasts that are more than this of a socket's speed are no use of a network; common practice.
 */
const STORM_PERCENT = 1

function guards(
  model: SiteModel,
  device: Device,
  portId: string,
): Pick<
  SwitchConfiguration['ports'][number],
  'mode' | 'description' | 'edge' | 'edgeGuard' | 'leaseGuard' | 'routerGuard' | 'stormPercent'
> {
  const role = portRolesOf(model).get(portId)!
  const can = (ability: Ability): boolean => model.profileOf(device.id).abilities.includes(ability)
  return {
    mode: role.mode,
    description: role.leadsTo ?? '',
    edge: role.isEdge && role.mode !== 'parked',
    edgeGuard: role.isEdge && role.mode !== 'parked' && can('edge-guard'),
    leaseGuard: !role.isTrusted && can('lease-guard'),
    routerGuard: !role.isTrusted && can('router-guard'),
    stormPercent:
      role.isEdge && role.mode !== 'parked' && can('storm-limit') ? STORM_PERCENT : null,
  }
}

function system(
  model: SiteModel,
  device: Device,
  secrets: Secrets,
  missing: string[],
): SwitchConfiguration['system'] {
  const {
    timeZone,
    management: { banner, logTo, monitoring },
  } = model.plan.site
  const can = (ability: Ability): boolean => model.profileOf(device.id).abilities.includes(ability)
  const home = device.addressing.segmentId
    ? model.plan.segments[device.addressing.segmentId]
    : undefined
  const [authentication, privacy] = monitoring
    ? [own(secrets, monitoring.authenticationRef), own(secrets, monitoring.privacyRef)]
    : []
  const watched = monitoring && can('monitoring')
  if (watched && !(authentication && privacy)) missing.push('the passwords of monitoring')
  const isPrepared = setUpOf(model, device).school === 'prepared'
  const password = own(secrets, SITE_PASSWORD)
  if (isPrepared && !password) missing.push('the password of the pages of devices')
  return {
    ...(isPrepared && password ? { administrator: { password } } : {}),
    ...(device.watchdog ? { watchdog: device.watchdog } : {}),
    hostName: hostLabel(device.name),
    timeZone,
    timeServers: home?.options.timeServers ?? [],
    banner,
    logTo: can('remote-log') ? logTo : null,
    neighbours: can('neighbours'),
    spanningTree: spanningTree(model, device),
    pageFrom: pageFrom(model, device, home),
    monitoring:
      watched && authentication && privacy
        ? { user: monitoring.user, authentication, privacy }
        : null,
  }
}

function spanningTree(
  model: SiteModel,
  device: Device,
): SwitchConfiguration['system']['spanningTree'] {
  const priority = spanningTreeOf(model).priorities.get(device.id)
  return priority === undefined ? null : { priority }
}

/**
 * A page answers to the segments that may administer, to its own, and to the segments and hosts
 * that an intent lets reach it, be it at times.
 */
function pageFrom(model: SiteModel, device: Device, home: Segment | undefined): string[] {
  const page = { id: 'page', name: 'page', protocol: 'tcp' as const, ports: [PAGE_PORT] }
  const target = device.id === model.gateway?.id ? MANAGED : home ? device.id : undefined
  const opens = (from: string): boolean => {
    if (target === undefined) return false
    const d = decideService(model.plan, from, target, page)
    return d.allowed || d.hours !== null
  }
  const segments = model.segments.filter(
    (s) => s.subnet && (mayAdminister(s) || s.id === home?.id || opens(s.id)),
  )
  const named = new Set(
    Object.values(model.plan.intents).flatMap((i) => piecesOf(model.plan, i.from)),
  )
  const hosts = model.devices.filter(
    (d) =>
      named.has(d.id) &&
      hasKnownAddress(d) &&
      !segments.some((s) => s.id === d.addressing.segmentId) &&
      opens(d.id),
  )
  const everybody = target === MANAGED && opens('internet') ? ['0.0.0.0/0', '::/0'] : []
  return [
    ...everybody,
    ...segments.map((s) => s.subnet!),
    ...hosts.map((d) => `${d.addressing.address!}/32`),
  ].sort()
}

function page(model: SiteModel, device: Device): SwitchConfiguration['page'] {
  const { mode, segmentId, address, gateway } = device.addressing
  const segment = segmentId ? model.plan.segments[segmentId] : undefined
  const length = segment?.subnet ? parsePrefix(segment.subnet)?.length : undefined
  const fixed = mode === 'fixed' && address && length !== undefined
  return {
    vlan: segment?.vlanId ?? null,
    mode: fixed ? 'fixed' : 'automatic',
    address: fixed ? `${address}/${length}` : null,
    gateway: fixed ? gateway : null,
  }
}

function switchOf(
  model: SiteModel,
  device: Device,
  secrets: Secrets,
  missing: string[],
): SwitchConfiguration {
  return {
    kind: 'switch',
    name: device.name,
    system: system(model, device, secrets, missing),
    page: page(model, device),
    ports: ports(model, device),
    controllerUrl: controllerUrl(model),
  }
}

function accessPoint(
  model: SiteModel,
  device: Device,
  secrets: Secrets,
  missing: string[],
): AccessPointConfiguration {
  const networks = [...model.networksOf(device.id)]
    .sort((a, b) => (a.id < b.id ? -1 : 1))
    .map((w) => {
      const key = w.keyRef ? (own(secrets, w.keyRef) ?? null) : null
      if (w.security !== 'open' && !key) missing.push(`the key of '${w.name}'`)
      return {
        name: w.name,
        security: w.security,
        key: w.security === 'open' ? null : key,
        vlan: model.segment(w.segmentId).vlanId,
        clientIsolation: w.clientIsolation,
        bands: w.bands,
        isHidden: w.isHidden,
        joinsByButton: w.joinsByButton,
        allowed: w.allowed,
        leastDbm: w.leastDbm,
        leadsUp: w.leadsUp,
        leadsUpDbm: w.leadsUpDbm,
        portal: w.portal && portalOf(w.portal, w.name, secrets, missing),
      }
    })
  const { channels, power, dark, restart } = model.plan.site.wireless
  return {
    kind: 'access-point',
    name: device.name,
    system: system(model, device, secrets, missing),
    page: page(model, device),
    ports: ports(model, device),
    country: model.plan.site.country,
    radios: settingsOf(device, model.profileOf(device.id)).map((r) => ({
      ...r,
      channel: channels === 'each' ? null : r.channel,
      powerDbm: power === 'full' ? null : r.powerDbm,
    })),
    dark,
    restart,
    networks,
    controllerUrl: controllerUrl(model),
  }
}

/**
 * A radio passes frames as they are, so its page is reached as its own segment arrives there: with
 * a tag or without.
 */
function bridgeRadio(
  model: SiteModel,
  device: Device,
  secrets: Secrets,
  missing: string[],
): BridgeRadioConfiguration {
  const { plan } = model
  const ownPage = page(model, device)
  const { segmentId } = device.addressing
  const arrives = segmentId ? carriageOf(model, segmentId).at(device.id)[0]?.form : undefined
  const paths = Object.values(plan.bridges)
    .sort((a, b) => (a.id < b.id ? -1 : 1))
    .flatMap((bridge) => {
      const link = inPlan(plan.links, bridge.linkId)
      return (['a', 'b'] as const).flatMap((end) => {
        const port = model.port(link[end])
        if (port.deviceId !== device.id) return []
        const set = bridge[end]
        const key = set.keyRef ? (own(secrets, set.keyRef) ?? null) : null
        if (set.keyRef && !key) missing.push(`the key of ${bridge.name}`)
        const { role, channel, widthMhz, powerDbm, distance } = set
        return [{ port: port.name, role, channel, widthMhz, powerDbm, key, distance }]
      })
    })
  return {
    kind: 'bridge-radio',
    name: device.name,
    system: system(model, device, secrets, missing),
    page: { ...ownPage, vlan: arrives === 'untagged' ? null : ownPage.vlan },
    ports: [],
    paths,
    country: plan.site.country,
    controllerUrl: controllerUrl(model),
  }
}

function portalOf(
  { passwordRef, entry, ...page }: Portal,
  name: string,
  secrets: Secrets,
  missing: string[],
): AccessPointConfiguration['networks'][number]['portal'] {
  const password = entry === 'password' && passwordRef ? (own(secrets, passwordRef) ?? null) : null
  if (entry === 'password' && !password) missing.push(`the password of the page of '${name}'`)
  return { ...page, password }
}

function gateway(
  model: SiteModel,
  device: Device,
  secrets: Secrets,
  missing: string[],
): GatewayConfiguration {
  const url = controllerUrl(model)
  const { discovery } = model.plan.controller
  const bootstrap = bootstrapUrl(model)
  const segments = model.segments.map((s): GatewayConfiguration['segments'][number] => {
    const subnet = s.subnet ? parsePrefix(s.subnet) : undefined
    if (!subnet || !s.gateway) missing.push(`the subnet of ${s.name}`)
    const reservations = model
      .membersOf(s.id)
      .filter((d) => d.addressing.mode === 'reserved' && d.addressing.address && d.hardwareAddress)
      .map((d) => ({ hardwareAddress: d.hardwareAddress!, address: d.addressing.address! }))
      .sort((a, b) => (a.hardwareAddress < b.hardwareAddress ? -1 : 1))
    return {
      vlan: s.vlanId,
      name: s.name,
      address: `${s.gateway ?? '0.0.0.0'}/${subnet?.length ?? 0}`,
      dhcp:
        s.dhcp.mode === 'server' && s.pools.length > 0
          ? {
              pools: s.pools,
              leaseSeconds: s.leaseSeconds,
              reservations,
              nameServers:
                s.gateway || s.options.nameServers.length > 0 ? [...nameServersOf(s)] : ['0.0.0.0'],
              timeServers: s.options.timeServers,
              routes: s.options.routes,
              domain: model.plan.site.domain,
              controllerUrl: discovery === 'dhcp-option' && s.purpose === 'management' ? url : null,
              ...(bootstrap && s.purpose === 'management' ? { bootstrapUrl: bootstrap } : {}),
            }
          : null,
      relayTo: s.dhcp.mode === 'relay' ? s.dhcp.relayTo : null,
    }
  })
  const zone = (z: Zone): 'line' | number | `tunnel:${string}` => (z === LINE ? 'line' : inside(z))
  const inside = (z: Zone): number | `tunnel:${string}` =>
    own(model.plan.tunnels, z) ? `tunnel:${z}` : model.segment(z).vlanId
  const zones = (list: readonly Zone[] | 'any'): 'any' | ReturnType<typeof zone>[] =>
    list === 'any' ? 'any' : list.map(zone)
  const { rules, masquerade, origins, lists, forwards } = compilePolicy(model.plan)
  const { domain } = model.plan.site
  const calledAt = controllerAddress(model)
  return {
    kind: 'gateway',
    name: device.name,
    system: system(model, device, secrets, missing),
    segments,
    ports: ports(model, device),
    lines: model.lines.flatMap((u) => line(model, u, secrets, missing)),
    failover: failover(model),
    choices: choices(model),
    origins: origins.map((o) => ({
      zone: zone(o.zone),
      only: o.only && [...o.only],
      never: [...o.never],
    })),
    addressLists: Object.fromEntries(lists.map((l) => [l.name, [...l.prefixes]])),
    rules: rules.map((r) => ({
      chain: r.chain,
      from: zones(r.from),
      to: zones(r.to),
      family: r.family,
      sources: r.sources?.name ?? null,
      destinations: r.destinations?.name ?? null,
      protocol: r.protocol,
      ports: r.ports.map((p) => (typeof p === 'number' ? { first: p, last: p } : p)),
      states: [...r.states],
      forwarded: r.forwarded,
      hours: r.hours,
      verdict: r.verdict,
    })),
    forwards: forwards.map(({ protocol, outside, inside, address }) => ({
      protocol,
      outside,
      inside,
      address,
    })),
    masquerade: masquerade.map(inside),
    tunnels: gatewayTunnels(model, secrets, missing),
    routes: routesToTunnels(model),
    dynamicNames: dynamicNames(model, secrets, missing),
    names: [
      ...(calledAt ? [{ name: CONTROLLER_NAME, address: calledAt }] : []),
      ...(domain
        ? hostNames(model).map((n) => ({ name: `${n.label}.${domain}`, address: n.address }))
        : []),
    ],
    controllerUrl: url,
  }
}

function failover({ plan }: SiteModel): GatewayConfiguration['failover'] {
  const { back, switchSeconds } = plan.site.failover
  return {
    back: back?.kind === 'after-quiet' ? back : { kind: back?.kind ?? 'at-once' },
    switchSeconds,
  }
}

/** Lines by their sockets; those that go into none are left out. */
function choices(model: SiteModel): GatewayConfiguration['choices'] {
  const { plan } = model
  return choicesInOrder(plan).map((c) => {
    const service = c.service === 'any' ? undefined : own(plan.services, c.service)
    return {
      from: c.from === ANYWHERE ? 'any' : model.segment(c.from).vlanId,
      protocol: service?.protocol ?? 'any',
      ports: (service?.ports ?? []).map((p) => (typeof p === 'number' ? { first: p, last: p } : p)),
      lines: c.uplinkIds.flatMap((id) => {
        const portId = own(plan.uplinks, id)?.portId
        return portId ? [model.port(portId).name] : []
      }),
    }
  })
}

function watchOf({ watch }: Uplink): GatewayConfiguration['lines'][number]['watch'] {
  if (!watch) return null
  const { length } = watch.tests
  const need = watch.need === 'any' ? 1 : watch.need === 'all' ? length : watch.need
  return { ...watch, need: Math.min(need, length) }
}

/** One that goes into no socket is nothing to the gateway. */
function line(
  model: SiteModel,
  uplink: Uplink,
  secrets: Secrets,
  missing: string[],
): GatewayConfiguration['lines'] {
  const port = uplink.portId ? model.plan.ports[uplink.portId] : undefined
  if (!port) return []
  const h = uplink.handOff
  const password = h.passwordRef ? (own(secrets, h.passwordRef) ?? null) : null
  const open = [
    ...(h.mode === null ? [`how ${uplink.name} gives its address`] : []),
    // A cellular router hands over without a tag.
    ...(h.vlan === null && h.mode !== 'cellular' ? [`the hand-off tag of ${uplink.name}`] : []),
    ...(h.mode === 'pppoe' && !h.pppoeUser ? [`the PPPoE account of ${uplink.name}`] : []),
    ...(h.mode === 'pppoe' && !password ? [`the PPPoE password of ${uplink.name}`] : []),
  ]
  // The others join once all is known of them; without the first there is no internet at all.
  if (open.length > 0 && uplink.id !== model.wayOut?.id) return []
  missing.push(...open)
  return [
    {
      port: port.name,
      vlan: h.vlan === 'untagged' || h.vlan === null ? null : h.vlan,
      priority: h.priority ?? 0,
      mtu: lineMtuOf(h),
      // Behind a cellular router the gateway asks for its address like on any other line.
      mode: h.mode === null || h.mode === 'cellular' ? 'automatic' : h.mode,
      user: h.mode === 'pppoe' ? h.pppoeUser : null,
      password: h.mode === 'pppoe' ? password : null,
      address: h.mode === 'fixed' ? h.address : null,
      gateway: h.mode === 'fixed' ? h.gateway : null,
      nameServers: h.nameServers,
      speedMbps: typeof h.forcedSpeedMbps === 'number' ? h.forcedSpeedMbps : null,
      hardwareAddress: h.pinnedHardwareAddress === 'none' ? null : h.pinnedHardwareAddress,
      segmentSize: segmentSizeOf(h),
      group: uplink.rank,
      weight: uplink.weight,
      standby: uplink.standby,
      watch: watchOf(uplink),
      inspected: uplink.isInspected,
    },
  ]
}
