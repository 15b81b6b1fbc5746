/**
 * On the bench, one device after the other: factory password, then firmware, then configuration,
 * with the laptop on each factory subnet.
 */
import { controllerUrl } from '../adoption'
import type { Device } from '../plan'
import { cableDepth, needsBenchInjector, type SiteModel } from '../topology'
import { inPlan } from '../plan'
import { reachOf } from './schools/reach'
import { setUpOf } from './schools/school'
import { laptopBeside } from './staging/table'
import {
  ELECTRIC,
  handsFor,
  HEIGHT,
  isAloft,
  KEEP_POWER,
  LAPTOP_OPEN,
  locationOf,
  SITE_PASSWORD,
  type Add,
  type Step,
} from './step'

/** Many pages keep what is saved, and run it only once it is applied (common practice). */
const APPLY = {
  label: 'Then',
  text: 'save, apply, and open the page anew: does it stand?',
} as const

/** Hands on a device that is mounted before it is set up, s; aloft it takes longer (common practice). */
const MOUNT_S = 600
const MOUNT_ALOFT_S = 1200

function powered(
  model: SiteModel,
  device: Device,
  after: readonly string[],
  bench: string | null,
  add: Add,
  /** What gives it a password of its own, where it has one from the box. */
  guarded: string | null,
): string {
  const inPlace = setUpOf(model, device).at === 'place'
  const at = locationOf(model, device)
  const isHigh = isAloft(model, device) || model.profileOf(device.id).kind === 'access-point'
  const { antennas } = model.profileOf(device.id).setUp
  const fitted =
    antennas.length === 0
      ? []
      : [
          add({
            id: `${device.id}.fit`,
            kind: 'antennas',
            title: `Screw the antennas of ${device.name} on, before it has power`,
            deviceId: device.id,
            locationId: bench,
            needs: [...after],
            workSeconds: 30 * antennas.length,
            words: antennas.map((a) => ({ label: 'Socket', text: a })),
          }),
        ]
  return add({
    id: `${device.id}.bench-power`,
    kind: 'bench-power',
    title: inPlace
      ? `Mount ${device.name}${at ? ` in ${inPlan(model.plan.locations, at).name}` : ''} and give ` +
        'it power, nothing else plugged in'
      : `Bench: give ${device.name} power, nothing else plugged in`,
    deviceId: device.id,
    locationId: bench,
    needs: fitted.length > 0 ? fitted : [...after],
    ...(inPlace ? handsFor(model, device) : {}),
    workSeconds: inPlace ? (isAloft(model, device) ? MOUNT_ALOFT_S : MOUNT_S) : 60,
    waitSeconds: model.profileOf(device.id).waits.bootSeconds,
    words: needsBenchInjector(model, device)
      ? [{ label: 'Power', text: 'by the injector of the bench; its data socket to the laptop' }]
      : [],
    safety: inPlace && isHigh ? `${ELECTRIC} ${HEIGHT}` : ELECTRIC,
    action: { kind: 'power', deviceIds: [device.id], on: true },
    leavesOpen: guarded
      ? {
          says: `${device.name} has power and its factory password.`,
          until: [guarded],
          orElse: 'Take its power away until it goes on.',
        }
      : null,
    ifExceeded:
      'Look at its lamp in the decoder; if it is dark, try another lead, then another outlet.',
  })
}
/** Settings of a newer version are not always read by an older one (common practice). */
const firmwareBack = (shipped: string, wanted: string): Step['noReturn'] =>
  shipped === wanted
    ? null
    : {
        why: 'Settings that the new version wrote may not be read by the old one.',
        wayBack:
          `Load ${shipped} again, set it back to its factory settings, then load the backup ` +
          'that was kept under that version.',
      }

export function benchSteps(
  model: SiteModel,
  device: Device,
  after: readonly string[],
  bench: string | null,
  add: Add,
): string {
  const { factory, waits, firmware, kind } = model.profileOf(device.id)
  const { school, by } = setUpOf(model, device)
  const id = (what: string): string => `${device.id}.${what}`
  const name = device.name
  const on = powered(model, device, after, bench, add, factory.address ? id('password') : null)
  if (!factory.address) return on
  const own = factory.address.split('/')[0]!
  const reach = reachOf(model, device, by, own)
  const base = { deviceId: device.id, locationId: bench }
  const plugged = add({
    ...base,
    id: id('laptop'),
    kind: 'laptop',
    title: reach.title,
    needs: [on],
    workSeconds: 90,
    words: reach.words,
    action: { kind: 'laptop', plugInto: device.id, address: laptopBeside(model, device) },
    leavesOpen: by === 'console' ? null : LAPTOP_OPEN,
    ifExceeded: reach.ifExceeded,
  })
  const password = add({
    ...base,
    id: id('password'),
    kind: 'password',
    title: `Replace the factory password of ${name}`,
    needs: [plugged],
    workSeconds: 60,
    words: [{ label: 'New password', text: SITE_PASSWORD, secret: true }],
    action: { kind: 'page', deviceId: device.id, address: own, act: 'password' },
  })
  const updated = add({
    ...base,
    id: id('firmware'),
    kind: 'firmware',
    title: `Firmware ${model.firmwareWanted(device.id)} on ${name}`,
    needs: [password],
    workSeconds: 120,
    waitSeconds: waits.firmwareSeconds + waits.bootSeconds,
    words: [
      { label: 'Shipped with', text: device.firmware ?? firmware.shipped },
      { label: 'Load', text: model.firmwareWanted(device.id) },
    ],
    whileWaiting: KEEP_POWER,
    noReturn: firmwareBack(device.firmware ?? firmware.shipped, model.firmwareWanted(device.id)),
    action: { kind: 'page', deviceId: device.id, address: own, act: 'firmware' },
    ifExceeded:
      'Wait as long again. Only then start it anew; it keeps the old version if the new one is broken.',
  })
  // The controller brings the others theirs, where there is one.
  const { hasController } = model
  const isOwn = school === 'own-page'
  if (kind !== 'gateway' && kind !== 'bridge-radio' && !isOwn) return updated
  return add({
    ...base,
    id: id('configure'),
    kind: 'configure',
    title:
      isOwn && hasController
        ? `Set ${name} by its own page: address, role, controller`
        : `Load the prepared configuration into ${name}`,
    needs: [updated],
    workSeconds: 120,
    waitSeconds: waits.applySeconds + waits.bootSeconds,
    words: [
      ...(hasController
        ? [{ label: 'Controller address', text: controllerUrl(model) ?? 'not planned yet' }]
        : []),
      ...(isOwn && hasController
        ? [
            { label: 'Own address', text: addressWords(model, device) },
            { label: 'Role', text: roleOf(model, device, kind) },
          ]
        : []),
      { label: 'File', text: `${device.id}.json from Adopt` },
      APPLY,
    ],
    whileWaiting: KEEP_POWER,
    blockedBy:
      !hasController || controllerUrl(model)
        ? null
        : {
            says: 'The controller has no address in the plan yet: give it one in',
            sheet: 'addresses',
          },
    action: { kind: 'page', deviceId: device.id, address: own, act: 'configuration' },
  })
}

/**
 * Radios, extenders, routers for a line, and everything where there is no controller are set by
 * their own page, and nobody adopts them: left as from the box two ends share an address, and leases
 * are handed out twice.
 */
export function ownPageSteps(
  model: SiteModel,
  device: Device,
  after: readonly string[],
  bench: string | null,
  add: Add,
): string {
  const { factory, waits, kind } = model.profileOf(device.id)
  const { by } = setUpOf(model, device)
  const reach = reachOf(model, device, by, factory.address!.split('/')[0]!)
  const on = powered(model, device, after, bench, add, `${device.id}.set`)
  const page = add({
    id: `${device.id}.laptop`,
    kind: 'laptop',
    title: reach.title,
    deviceId: device.id,
    locationId: bench,
    needs: [on],
    workSeconds: 90,
    words: reach.words,
    leavesOpen: by === 'console' ? null : LAPTOP_OPEN,
    ifExceeded: reach.ifExceeded,
  })
  return add({
    id: `${device.id}.set`,
    kind: 'set',
    title: `Set up ${device.name} by its own page: password, firmware, address, role`,
    deviceId: device.id,
    locationId: bench,
    needs: [page],
    workSeconds: 480,
    waitSeconds: waits.firmwareSeconds + waits.applySeconds + waits.bootSeconds,
    whileWaiting: KEEP_POWER,
    words: [
      { label: 'New password', text: SITE_PASSWORD, secret: true },
      {
        label: 'Load',
        text: model.firmwareWanted(device.id) || 'the newest that its maker offers',
      },
      {
        label: 'Own address',
        text: addressWords(model, device),
      },
      ...(factory.dhcp === 'server' ? [{ label: 'Lease server', text: 'off' }] : []),
      { label: 'Role', text: roleOf(model, device, kind) },
      APPLY,
    ],
    ifExceeded: 'It may answer on its new address already: set the laptop to that subnet.',
  })
}

function addressWords(model: SiteModel, device: Device): string {
  const { mode, segmentId, address, gateway } = device.addressing
  const segment = segmentId ? model.plan.segments[segmentId] : undefined
  if (mode === 'fixed' && address)
    return `${address}/${segment?.subnet?.split('/')[1] ?? '24'}, gateway ${gateway ?? 'none'}`
  return mode === 'reserved' && address ? `automatic, reserved as ${address}` : 'automatic (DHCP)'
}

function roleOf(model: SiteModel, device: Device, kind: string): string {
  if (kind === 'gateway')
    return 'gateway: its lines, segments, leases and rules as on Survey, Addresses and Policy'
  if (kind === 'switch') return 'switch: the VLANs of each port as in Wiring'
  if (kind === 'access-point') {
    const names = Object.values(model.plan.wirelessNetworks)
      .filter((n) => n.accessPointIds.includes(device.id))
      .map((n) => `${n.name} in ${n.segmentId ? model.vlanName(n.segmentId) : 'no VLAN yet'}`)
    return names.length > 0
      ? `access point: ${names.join('; ')}`
      : 'access point, of no network yet'
  }
  if (kind === 'range-extender') return 'extends the network on the air, no routing'
  if (kind !== 'bridge-radio') return 'line for the gateway; no network of its own'
  const other = model
    .portsOf(device.id)
    .map((p) => ({ link: model.linkAt(p.id), peer: model.peerOf(p.id) }))
    .find(({ link }) => link?.medium === 'radio')?.peer
  if (!other) return 'its other end is not in the plan'
  const isNear = cableDepth(model, device.id) <= cableDepth(model, other.deviceId)
  return `${isNear ? 'main end' : 'far end'} of the pair with ${model.device(other.deviceId).name}`
}
