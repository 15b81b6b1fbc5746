/**
 * What a device was changed to by its own page, brought back into the plan: for each line of the
 * difference the fact of the plan that it follows from. What follows from no single fact is said,
 * with where it is changed.
 */
import type { Configuration } from '@mast/protocol'
import { hostLabel } from '../../naming'
import {
  applyRawEdit,
  editCall,
  settingsOf,
  type Device,
  type EditCall,
  type SitePlan,
} from '../../plan'
import { siteModel, type SiteModel } from '../../topology'
import { desiredConfiguration, type Secrets } from '../configuration'
import { differencesOf, type Difference } from './differences'

/** Edits that bring one line into the plan, or why there are none. */
export type Taking =
  | { readonly ok: true; readonly edits: readonly EditCall[] }
  | { readonly ok: false; readonly says: string }

interface Taken {
  readonly model: SiteModel
  readonly device: Device
  /** The names in the path that stand for `*`. */
  readonly names: readonly string[]
  readonly theirs: unknown
}
interface Taker {
  /** Fields by their names; `*` is one name, a last `**` everything beneath. */
  readonly at: string
  take(t: Taken): Taking
}

const no = (says: string): Taking => ({ ok: false, says })
const by = (...edits: EditCall[]): Taking => ({ ok: true, edits })
/** What a field is called in the plan where it is not called the same. */
type Fields = Readonly<Record<string, string>>

const segmentOf = (plan: SitePlan, vlan: unknown) =>
  Object.values(plan.segments).find((s) => s.vlanId === vlan)
const noSegment = (vlan: unknown): Taking =>
  no(`VLAN ${String(vlan)} is no segment of the plan; add it in Addresses first`)

const untagged: Taker = {
  at: 'ports.*.untagged',
  take({ model, device, names, theirs }) {
    const segment = theirs === null ? null : segmentOf(model.plan, theirs)
    if (segment === undefined) return noSegment(theirs)
    const portIds = [`${device.id}.${names[0]}`]
    return by(editCall('setUntagged', { segmentId: segment?.id ?? null, portIds }))
  },
}

const tagged: Taker = {
  at: 'ports.*.tagged',
  take({ model, device, names, theirs }) {
    const portId = `${device.id}.${names[0]}`
    const vlans = theirs as readonly number[]
    const wanted = vlans.map((v) => segmentOf(model.plan, v))
    if (wanted.includes(undefined)) return noSegment(vlans[wanted.indexOf(undefined)])
    const has = model.port(portId).taggedSegmentIds
    const ids = wanted.map((s) => s!.id)
    const portIds = [portId]
    return by(
      ...has
        .filter((id) => !ids.includes(id))
        .map((segmentId) => editCall('removeTag', { segmentId, portIds })),
      ...ids
        .filter((id) => !has.includes(id))
        .map((segmentId) => editCall('addTag', { segmentId, portIds })),
    )
  },
}

const pageAddress: Taker = {
  at: 'page.*',
  take({ model, device, names, theirs }) {
    const { addressing } = device
    const to = (changes: Partial<Device['addressing']>): Taking =>
      by(
        editCall('changeDevice', {
          id: device.id,
          changes: { addressing: { ...addressing, ...changes } },
        }),
      )
    if (names[0] === 'address' && typeof theirs === 'string')
      return to({ mode: 'fixed', address: theirs.split('/')[0]! })
    if (names[0] === 'gateway' && typeof theirs === 'string') return to({ gateway: theirs })
    if (names[0] === 'mode' && theirs === 'automatic')
      return to({ mode: 'automatic', gateway: null })
    if (names[0] === 'vlan') {
      const segment = segmentOf(model.plan, theirs)
      return segment ? to({ segmentId: segment.id }) : noSegment(theirs)
    }
    return no('it follows from the address of the device; change that in Addresses')
  },
}

const radio: Taker = {
  at: 'radios.*.*',
  take({ model, device, names: [number, field], theirs }) {
    const { channels, power } = model.plan.site.wireless
    if (field === 'channel' && channels === 'each')
      return no('each access point chooses its channel by itself; Wi-Fi says so for all of them')
    if (field === 'powerDbm' && power === 'full')
      return no('all radios send with all that is allowed; Wi-Fi says so for all of them')
    const radios = settingsOf(device, model.profileOf(device.id)).map((r, i) =>
      String(i + 1) === number ? { ...r, [field!]: theirs } : r,
    )
    return by(editCall('changeDevice', { id: device.id, changes: { radios } }))
  },
}

const networkFields: Fields = {
  security: 'security',
  clientIsolation: 'clientIsolation',
  bands: 'bands',
  isHidden: 'isHidden',
  joinsByButton: 'joinsByButton',
  allowed: 'allowed',
  leastDbm: 'leastDbm',
  leadsUp: 'leadsUp',
  leadsUpDbm: 'leadsUpDbm',
}
const network: Taker = {
  at: 'networks.*.*',
  take({ model, device, names: [name, field], theirs }) {
    const found = model.networksOf(device.id).find((w) => w.name === name)
    if (!found) return no('the plan has no such network here; add it in Wi-Fi')
    if (field === 'vlan') {
      const segment = segmentOf(model.plan, theirs)
      return segment
        ? by(
            editCall('changeWirelessNetwork', { id: found.id, changes: { segmentId: segment.id } }),
          )
        : noSegment(theirs)
    }
    const of = networkFields[field!]
    return of
      ? by(editCall('changeWirelessNetwork', { id: found.id, changes: { [of]: theirs } }))
      : no('change it in Wi-Fi')
  },
}

/** A whole network of the plan that it does not send. */
const wholeNetwork: Taker = {
  at: 'networks.*',
  take({ model, device, names: [name], theirs }) {
    const found = model.networksOf(device.id).find((w) => w.name === name)
    if (theirs === undefined && found)
      return by(
        editCall('changeWirelessNetwork', {
          id: found.id,
          changes: { accessPointIds: found.accessPointIds.filter((id) => id !== device.id) },
        }),
      )
    const known = Object.values(model.plan.wirelessNetworks).find((w) => w.name === name)
    return theirs !== undefined && known
      ? by(
          editCall('changeWirelessNetwork', {
            id: known.id,
            changes: { accessPointIds: [...known.accessPointIds, device.id] },
          }),
        )
      : no('the plan has no such network; add it in Wi-Fi')
  },
}

const pathFields: ReadonlySet<string> = new Set([
  'role',
  'channel',
  'widthMhz',
  'powerDbm',
  'distance',
])
const path: Taker = {
  at: 'paths.*.*',
  take({ model, device, names: [port, field], theirs }) {
    if (!pathFields.has(field!)) return no('change it in Bridges')
    const portId = `${device.id}.${port}`
    for (const b of Object.values(model.plan.bridges)) {
      const link = model.plan.links[b.linkId]
      const end = link?.a === portId ? 'a' : link?.b === portId ? 'b' : undefined
      if (end)
        return by(
          editCall('changeBridge', {
            id: b.id,
            changes: { [end]: { ...b[end], [field!]: theirs } },
          }),
        )
    }
    return no('the plan has no bridge on this path; add it in Bridges')
  },
}

const segmentLease: Taker = {
  at: 'segments.*.dhcp.*',
  take({ model, names: [vlan, field], theirs }) {
    const segment = segmentOf(model.plan, Number(vlan))
    if (!segment) return noSegment(vlan)
    const { id, options } = segment
    const change = (changes: object): Taking => by(editCall('changeSegment', { id, changes }))
    switch (field) {
      case 'pools':
        return by(editCall('setPools', { segmentId: id, pools: theirs as typeof segment.pools }))
      case 'leaseSeconds':
        return change({ leaseSeconds: theirs })
      case 'nameServers':
      case 'timeServers':
      case 'routes':
        return change({ options: { ...options, [field]: theirs } })
      default:
        return no('change it in Addresses')
    }
  },
}

const reservation: Taker = {
  at: 'segments.*.dhcp.reservations.**',
  take({ model, names: [, hardwareAddress], theirs }) {
    const device = model.devices.find((d) => d.hardwareAddress === hardwareAddress)
    if (!device)
      return no(
        `no device of the plan has the hardware address ${hardwareAddress}; add it in Survey`,
      )
    const address = typeof theirs === 'string' ? theirs : (theirs as { address?: string })?.address
    return address
      ? by(
          editCall('changeDevice', {
            id: device.id,
            changes: { addressing: { ...device.addressing, mode: 'reserved', address } },
          }),
        )
      : no(`${device.name} keeps its address in the plan; change that in Addresses`)
  },
}

const segmentAddress: Taker = {
  at: 'segments.*.address',
  take({ model, names: [vlan], theirs }) {
    const segment = segmentOf(model.plan, Number(vlan))
    if (!segment) return noSegment(vlan)
    const [gateway, length] = String(theirs).split('/')
    return segment.subnet?.endsWith(`/${length}`)
      ? by(editCall('setGateway', { segmentId: segment.id, gateway: gateway! }))
      : no('its subnet has another size there; plan that in Addresses')
  },
}

const lineFields: Fields = {
  mtu: 'mtu',
  priority: 'priority',
  user: 'pppoeUser',
  address: 'address',
  gateway: 'gateway',
  nameServers: 'nameServers',
}
const line: Taker = {
  at: 'lines.*.*',
  take({ model, device, names: [port, field], theirs }) {
    const found = model.lines.find((u) => u.portId === `${device.id}.${port}`)
    if (!found) return no('the plan has no line in this socket; add it in Uplinks')
    const handOff = (changes: object): Taking =>
      by(
        editCall('changeUplink', {
          id: found.id,
          changes: { handOff: { ...found.handOff, ...changes } },
        }),
      )
    const change = (changes: object): Taking =>
      by(editCall('changeUplink', { id: found.id, changes }))
    if (field === 'vlan') return handOff({ vlan: theirs ?? 'untagged' })
    if (field === 'speedMbps') return handOff({ forcedSpeedMbps: theirs ?? 'negotiated' })
    if (field === 'hardwareAddress') return handOff({ pinnedHardwareAddress: theirs ?? 'none' })
    if (field === 'weight' || field === 'standby') return change({ [field]: theirs })
    if (field === 'inspected') return change({ isInspected: theirs })
    const of = lineFields[field!]
    return of ? handOff({ [of]: theirs }) : no('change it in Uplinks')
  },
}

const siteWide =
  (field: 'timeZone' | 'country', of: string): Taker['take'] =>
  ({ theirs }) =>
    typeof theirs === 'string'
      ? by(editCall('changeSite', { [field]: theirs }))
      : no(`change ${of} in Survey`)

/** The more exact one first: the first that fits takes it. */
const takers: readonly Taker[] = [
  untagged,
  tagged,
  { at: 'ports.**', take: () => no('it follows from what is cabled there; change that in Wiring') },
  pageAddress,
  radio,
  network,
  wholeNetwork,
  { at: 'networks.**', take: () => no('change it in Wi-Fi') },
  path,
  reservation,
  segmentLease,
  segmentAddress,
  { at: 'segments.**', take: () => no('change it in Addresses') },
  line,
  { at: 'lines.**', take: () => no('change it in Uplinks') },
  {
    at: 'name',
    take: ({ device, theirs }) =>
      by(editCall('changeDevice', { id: device.id, changes: { name: String(theirs) } })),
  },
  {
    at: 'system.hostName',
    take: ({ device, theirs }) =>
      hostLabel(device.name) === theirs
        ? by()
        : by(editCall('changeDevice', { id: device.id, changes: { name: String(theirs) } })),
  },
  { at: 'system.timeZone', take: siteWide('timeZone', 'the time zone') },
  { at: 'country', take: siteWide('country', 'the country') },
  {
    at: 'system.banner',
    take: ({ model, theirs }) =>
      by(
        editCall('changeSite', {
          management: { ...model.plan.site.management, banner: String(theirs ?? '') },
        }),
      ),
  },
  {
    at: 'system.logTo',
    take: ({ model, theirs }) =>
      by(
        editCall('changeSite', {
          management: { ...model.plan.site.management, logTo: theirs as string | null },
        }),
      ),
  },
  {
    at: 'dark',
    take: ({ theirs }) => by(editCall('changeSite', { wireless: { dark: theirs as never } })),
  },
  {
    at: 'restart',
    take: ({ theirs }) => by(editCall('changeSite', { wireless: { restart: theirs as never } })),
  },
  {
    at: 'rules.**',
    take: () => no('rules follow from intents; state what it is to do in Policy'),
  },
  { at: 'forwards.**', take: () => no('state it in Policy') },
  { at: 'tunnels.**', take: () => no('change it in Tunnels') },
]

/** What stands for each `*`, or undefined where the pattern does not fit. */
function fits(pattern: string, at: readonly string[]): string[] | undefined {
  const parts = pattern.split('.')
  const isOpen = parts.at(-1) === '**'
  const fixed = isOpen ? parts.slice(0, -1) : parts
  if (isOpen ? at.length < fixed.length : at.length !== fixed.length) return undefined
  const names: string[] = []
  for (const [i, part] of fixed.entries())
    if (part === '*') names.push(at[i]!)
    else if (part !== at[i]) return undefined
  return [...names, ...at.slice(fixed.length)]
}

function proposed(model: SiteModel, device: Device, d: Difference): Taking {
  if (d.isSecret) return no('a key or a password is typed in where the plan has it, and sent')
  for (const { at, take } of takers) {
    const names = fits(at, d.path)
    if (names) return take({ model, device, names, theirs: d.valueAfter })
  }
  return no('it follows from other facts of the plan')
}

const samePath = (a: readonly string[], b: readonly string[]): boolean =>
  a.length === b.length && a.every((x, i) => x === b[i])

export interface TakenOver {
  readonly edits: readonly EditCall[]
  /** By the path of each line that was not taken. */
  readonly refused: readonly { readonly path: readonly string[]; readonly says: string }[]
}

/**
 * Brings lines of the difference into the plan, one after the other. Each is tried: only what makes
 * the plan want on this line what the device runs, and adds no other difference, is taken.
 * @param paths of the lines that are to be taken
 */
export function takeTheirs(
  plan: SitePlan,
  deviceId: string,
  runs: Configuration,
  secrets: Secrets,
  paths: readonly (readonly string[])[],
): TakenOver {
  const edits: EditCall[] = []
  const refused: TakenOver['refused'][number][] = []
  let [now, wants] = [plan, wanted(plan, deviceId, secrets)]
  for (const path of paths) {
    const lines = wants ? differencesOf(wants, runs) : []
    const line = lines.find((d) => samePath(d.path, path))
    // A line before may have taken it along.
    if (!line) continue
    const model = siteModel(now)
    const taking = proposed(model, model.device(deviceId), line)
    const after = taking.ok ? applied(now, taking.edits) : undefined
    if (!taking.ok) refused.push({ path, says: taking.says })
    else if (typeof after === 'string') refused.push({ path, says: after })
    else {
      const then = wanted(after!, deviceId, secrets)
      const left = then && differencesOf(then, runs)
      if (!left || left.some((d) => samePath(d.path, path)) || left.length >= lines.length)
        refused.push({ path, says: 'it follows from other facts of the plan as well' })
      else {
        edits.push(...taking.edits)
        ;[now, wants] = [after!, then]
      }
    }
  }
  return { edits, refused }
}

function wanted(plan: SitePlan, deviceId: string, secrets: Secrets): Configuration | undefined {
  const outcome = desiredConfiguration(siteModel(plan), deviceId, secrets)
  return outcome.ok ? outcome.desired.configuration : undefined
}

/** The plan after them, or why one cannot be. */
function applied(plan: SitePlan, calls: readonly EditCall[]): SitePlan | string {
  let now = plan
  for (const call of calls) {
    const outcome = applyRawEdit(now, call)
    if (!outcome.ok) return outcome.problems.map((p) => p.reason).join('; ')
    now = outcome.plan
  }
  return now
}
