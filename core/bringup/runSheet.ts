/**
 * The run sheet of the day, made from the plan: bench first (factory password, then firmware, then configuration, with the laptop on
 * each factory subnet), then in place (cable, power, claim, verify, back up), then the hosts. Every step names what must be done before.
 */
import { address, formatAddress } from '../addressing'
import { controllerUrl } from '../adoption'
import type { Device, Profile } from '../plan'
import { cableDepth, cablePath, type SiteModel } from '../topology'
import TinyQueue from 'tinyqueue'
import { mayUnplug } from '../survey'

/** What the stand-ins can do in place of a person's hands. */
export type HandAction =
  | { readonly kind: 'power'; readonly deviceIds: readonly string[]; readonly on: boolean }
  | { readonly kind: 'laptop'; readonly plugInto: string | null; readonly address: string | null }
  | { readonly kind: 'page'; readonly deviceId: string; readonly address: string; readonly act: 'password' | 'firmware' | 'configuration' }
  | { readonly kind: 'plug'; readonly deviceIds: readonly string[] }
  | { readonly kind: 'plug-line' }

export interface Step {
  readonly id: string
  readonly title: string
  readonly deviceId: string | null
  readonly needs: readonly string[]
  /** Hands-on time, s. */
  readonly workSeconds: number
  /** Time to wait afterwards before the next step on the same thing, s. */
  readonly waitSeconds: number
  /** What to read or type, exactly. */
  readonly words: readonly { readonly label: string; readonly text: string; readonly secret?: boolean }[]
  /** Has to be acknowledged before the step can be ticked. */
  readonly safety: string | null
  /** What must not be done while waiting. */
  readonly whileWaiting: string | null
  readonly action: HandAction | null
  /** A claim in the controller, or reaching service there, ticks the step by itself. */
  readonly follows: { readonly deviceId: string; readonly state: 'claimed' | 'in-service' } | null
  /** Why it cannot be started yet for a reason outside the sheet. */
  readonly blockedBy: string | null
  readonly ifExceeded: string | null
}

const ELECTRIC = 'Mains: leave fixed wiring to a licensed electrician; use an undamaged lead and a protected outlet.'
const HEIGHT = 'Work at height: never alone, a footed ladder, fall protection where local rules ask for it. Keep clear of overhead lines.'
const KEEP_POWER = 'Do not refresh the page and do not cut the power while it writes.'

/** Equipment that no controller adopts and that frames have to pass. */
const PASSIVE: ReadonlySet<Profile['kind']> = new Set(['switch', 'bridge-radio', 'range-extender', 'injector', 'modem'])

/** An address for the laptop: same subnet as the device, not the device's own. */
export function laptopAddressFor(factory: string): string {
  const [own, length] = factory.split('/') as [string, string]
  const value = address(own).value
  const hostBits = BigInt(32 - Number(length))
  const network = (value >> hostBits) << hostBits
  const wanted = network + (value === network + 10n ? 11n : 10n)
  return `${formatAddress({ family: 4, value: wanted })}/${length}`
}

interface Draft extends Partial<Step> { id: string; title: string; needs: string[] }

const made = new WeakMap<SiteModel, Step[]>()

/** The same list for the same model. */
export function runSheetOf(model: SiteModel): Step[] {
  let steps = made.get(model)
  if (!steps) made.set(model, (steps = writeRunSheet(model)))
  return steps
}

function writeRunSheet(model: SiteModel): Step[] {
  const steps: Step[] = []
  const add = (d: Draft): string => {
    steps.push({ deviceId: null, workSeconds: 60, waitSeconds: 0, words: [], safety: null, whileWaiting: null, action: null, follows: null, blockedBy: null, ifExceeded: null, ...d })
    return d.id
  }
  const adoptable = model.devices.filter((d) => model.profileOf(d.id).adoptable)
  const rank: Partial<Record<Profile['kind'], number>> = { 'gateway': 0, 'switch': 1, 'access-point': 2 }
  const ordered = [...adoptable].sort((a, b) => (rank[model.profileOf(a.id).kind] ?? 9) - (rank[model.profileOf(b.id).kind] ?? 9) || cableDepth(model, a.id) - cableDepth(model, b.id) || (a.id < b.id ? -1 : 1))
  if (ordered.length === 0) return []

  const uplink = model.uplink
  const recorded = uplink ? add({
    id: 'record-hand-off', title: `Record the hand-off of ${uplink.name} and photograph the old router`, needs: [], workSeconds: 600,
    words: [{ label: 'Tag', text: uplink.handOff.vlan === null ? 'not known yet' : String(uplink.handOff.vlan) }, { label: 'Kind', text: uplink.handOff.mode ?? 'not known yet' }],
    blockedBy: mayUnplug(uplink) ? null : 'Facts of the hand-off are missing; complete them in Survey before anything is unplugged.',
  }) : null
  const labels = add({
    id: 'read-labels', title: 'Read the serials off the labels and compare them with the plan', needs: [], workSeconds: 60 * ordered.length,
    words: ordered.map((d) => ({ label: d.name, text: d.serial ?? 'no serial in the plan yet' })),
    blockedBy: ordered.every((d) => d.serial) ? null : `No serial yet for ${ordered.filter((d) => !d.serial).map((d) => d.name).join(', ')}; enter it in Survey.`,
  })

  const benched = new Map<string, string>()
  let bench = labels
  for (const device of ordered) { bench = benchSteps(model, device, bench, add); benched.set(device.id, bench) }
  const automatic = add({ id: 'laptop-automatic', title: 'Set the laptop back to an automatic address', needs: [bench], workSeconds: 60,
    words: [{ label: 'Address', text: 'automatic (DHCP)' }], action: { kind: 'laptop', plugInto: null, address: null } })

  const unplugged = uplink ? add({ id: 'unplug-old', title: 'Unplug the old router', needs: [recorded!, automatic], workSeconds: 120,
    words: [{ label: 'Way back', text: 'plug the old router in again; keep it until the proof is done' }] }) : automatic
  const line = uplink ? add({
    id: 'plug-line', title: `Plug ${uplink.name} into ${uplink.portId ? model.portName(uplink.portId) : 'the gateway'}`, needs: [unplugged], workSeconds: 60,
    blockedBy: uplink.portId ? null : 'The plan does not say which port the line goes into; choose it in Wiring.', action: { kind: 'plug-line' },
  }) : automatic

  const others = model.devices.filter((d) => !model.profileOf(d.id).adoptable && PASSIVE.has(model.profileOf(d.id).kind))
  const aloft = others.some((d) => ['roof', 'mast', 'outdoors'].includes(model.plan.locations[d.locationId ?? '']?.kind ?? ''))
  let placed: string[] = [automatic]
  if (others.length > 0)
    placed = [...placed, add({ id: 'plain-switches', title: `Place and power ${others.map((d) => d.name).join(', ')}`, needs: [automatic], workSeconds: 120 * others.length, safety: aloft ? `${ELECTRIC} ${HEIGHT}` : ELECTRIC,
      action: { kind: 'power', deviceIds: others.map((d) => d.id), on: true } })]
  const controller = model.plan.controller.hostDeviceId ? model.plan.devices[model.plan.controller.hostDeviceId] : undefined
  const url = controllerUrl(model)
  const called = controller ? add({
    id: 'controller-on', title: `Cable and start ${controller.name}`, needs: placed, deviceId: controller.id, workSeconds: 180, waitSeconds: model.profileOf(controller.id).waits.bootSeconds,
    words: [{ label: 'Address for devices', text: url ?? 'not planned yet' }], safety: ELECTRIC,
    action: { kind: 'power', deviceIds: [controller.id], on: true }, ifExceeded: 'Ping its address from the laptop in management; look at its cable and its port\'s VLAN.',
  }) : automatic

  // Devices between the gateway and the controller are cabled before any is claimed: until then nobody can call it.
  const adoptableIds = new Set(ordered.map((d) => d.id))
  const wayTo = (id: string): string[] => (cablePath(model, id) ?? []).map(([out]) => out.deviceId).filter((x) => adoptableIds.has(x))
  const toController = controller ? [...new Set(wayTo(controller.id))] : []
  const stepOf = (id: string, what: string): string => `${id}.${what}`
  for (const device of ordered) {
    const parent = wayTo(device.id).at(-1)
    const cableAfter = parent === undefined ? [called, line] : [stepOf(parent, toController.includes(device.id) ? 'cable' : 'verify')]
    const claimAfter = [...toController.filter((id) => id !== device.id).map((id) => stepOf(id, 'cable')), ...(parent === undefined ? [] : [stepOf(parent, 'verify')])]
    placeSteps(model, device, [benched.get(device.id)!, ...cableAfter], [...new Set(claimAfter)], add)
  }
  const backedUp = ordered.map((d) => stepOf(d.id, 'backup'))
  const verified = ordered.map((d) => stepOf(d.id, 'verify'))
  const hosts = model.devices.filter((d) => model.profileOf(d.id).kind === 'host')
  const hostsOn = hosts.length > 0 ? [add({
    id: 'hosts-on', title: `Connect and switch on ${hosts.length === 1 ? hosts[0]!.name : `the ${hosts.length} hosts`}`, needs: verified, workSeconds: 60 * hosts.length,
    waitSeconds: Math.max(...hosts.map((h) => model.profileOf(h.id).waits.bootSeconds)), words: hosts.map((h) => ({ label: h.name, text: attachment(model, h) })),
    action: { kind: 'power', deviceIds: hosts.map((h) => h.id), on: true },
  })] : verified
  add({ id: 'prove', title: 'Run the proof, then once more after a restart', needs: [...hostsOn, ...backedUp], workSeconds: 300 })
  return inOrder(steps)
}

function benchSteps(model: SiteModel, device: Device, after: string, add: (d: Draft) => string): string {
  const { factory, waits, firmware, kind } = model.profileOf(device.id)
  const id = (what: string): string => `${device.id}.${what}`
  const name = device.name
  const power = add({
    id: id('bench-power'), title: `Bench: give ${name} power, nothing else plugged in`, deviceId: device.id, needs: [after], workSeconds: 60, waitSeconds: waits.bootSeconds,
    safety: ELECTRIC, action: { kind: 'power', deviceIds: [device.id], on: true }, ifExceeded: 'Look at its lamp in the decoder; if it is dark, try another lead, then another outlet.',
  })
  if (!factory.address) return power
  const own = factory.address.split('/')[0]!
  const laptop = laptopAddressFor(factory.address)
  const plugged = add({
    id: id('laptop'), title: `Laptop into ${name}, address on its factory subnet`, deviceId: device.id, needs: [power], workSeconds: 90,
    words: [{ label: 'Laptop address', text: laptop }, { label: 'Page', text: `https://${own}` }, { label: 'Account', text: factory.account ?? 'none' }],
    action: { kind: 'laptop', plugInto: device.id, address: laptop }, ifExceeded: 'A device that found a DHCP server does not answer on its factory address; unplug all but the laptop and start it again.',
  })
  const password = add({
    id: id('password'), title: `Replace the factory password of ${name}`, deviceId: device.id, needs: [plugged], workSeconds: 60,
    words: [{ label: 'New password', text: 'site-password', secret: true }], action: { kind: 'page', deviceId: device.id, address: own, act: 'password' },
  })
  const updated = add({
    id: id('firmware'), title: `Firmware ${firmware.wanted} on ${name}`, deviceId: device.id, needs: [password], workSeconds: 120, waitSeconds: waits.firmwareSeconds + waits.bootSeconds,
    words: [{ label: 'Shipped with', text: device.firmware ?? firmware.shipped }, { label: 'Load', text: firmware.wanted }], whileWaiting: KEEP_POWER,
    action: { kind: 'page', deviceId: device.id, address: own, act: 'firmware' }, ifExceeded: 'Wait as long again. Only then start it anew; it keeps the old version if the new one is broken.',
  })
  if (kind !== 'gateway') return updated
  return add({
    id: id('configure'), title: `Load the prepared configuration into ${name}`, deviceId: device.id, needs: [updated], workSeconds: 120, waitSeconds: waits.applySeconds + waits.bootSeconds,
    words: [{ label: 'Controller address', text: controllerUrl(model) ?? 'not planned yet' }, { label: 'File', text: `${device.id}.json from Adopt` }], whileWaiting: KEEP_POWER,
    blockedBy: controllerUrl(model) ? null : 'The controller has no address in the plan yet.',
    action: { kind: 'page', deviceId: device.id, address: own, act: 'configuration' },
  })
}

function placeSteps(model: SiteModel, device: Device, cableAfter: string[], claimAfter: string[], add: (d: Draft) => string): void {
  const { waits, kind } = model.profileOf(device.id)
  const id = (what: string): string => `${device.id}.${what}`
  const location = device.locationId ? model.plan.locations[device.locationId] : undefined
  const cables = model.portsOf(device.id).flatMap((p) => {
    const peer = model.peerOf(p.id)
    return peer ? [{ label: `port ${p.name}`, text: model.portName(peer.id) }] : []
  })
  const plugged = add({
    id: id('cable'), title: `Mount and cable ${device.name}${location ? ` in ${location.name}` : ''}`, deviceId: device.id, needs: cableAfter, workSeconds: kind === 'access-point' ? 900 : 300, words: cables,
    safety: kind === 'access-point' ? HEIGHT : ELECTRIC, waitSeconds: waits.bootSeconds, action: { kind: 'plug', deviceIds: [device.id] },
    ifExceeded: 'Look at its lamp in the decoder: seeking an address means that the untagged VLAN of its port has no DHCP.',
  })
  const claimed = add({
    id: id('claim'), title: `Name and claim ${device.name}`, deviceId: device.id, needs: [plugged, ...claimAfter], workSeconds: 60,
    words: [{ label: 'Serial', text: device.serial ?? 'not in the plan yet' }, { label: 'Name', text: device.name }], follows: { deviceId: device.id, state: 'claimed' },
    ifExceeded: 'It may wait for its next call; then compare the serial with the label.',
  })
  const verified = add({
    id: id('verify'), title: `See ${device.name} in service`, deviceId: device.id, needs: [claimed], workSeconds: 30, waitSeconds: waits.firmwareSeconds + waits.applySeconds + waits.bootSeconds,
    follows: { deviceId: device.id, state: 'in-service' }, whileWaiting: KEEP_POWER, ifExceeded: 'Read its last report in Adopt; compare wanted and running firmware and configuration.',
  })
  add({
    id: id('backup'), title: `Back up ${device.name}`, deviceId: device.id, needs: [verified], workSeconds: 60, words: [{ label: 'File', text: `${device.id}-after.json` }],
  })
}

function attachment(model: SiteModel, host: Device): string {
  if (host.wirelessNetworkId) return `joins '${model.plan.wirelessNetworks[host.wirelessNetworkId]?.name ?? ''}'`
  const peer = model.portsOf(host.id).map((p) => model.peerOf(p.id)).find((p) => p)
  return peer ? model.portName(peer.id) : 'not cabled in the plan'
}

/** Steps so that each stands after what it needs (Kahn 1962), otherwise in the order in which they were written. */
export function inOrder(steps: readonly Step[]): Step[] {
  const at = new Map(steps.map((s, i) => [s.id, i]))
  const waiting = steps.map((s) => new Set(s.needs).size)
  const waitedForBy = new Map<string, number[]>()
  steps.forEach((s, i) => { for (const n of new Set(s.needs)) waitedForBy.set(n, [...(waitedForBy.get(n) ?? []), i]) })
  const ready = new TinyQueue(waiting.flatMap((n, i) => (n === 0 ? [i] : [])))
  const out: Step[] = []
  for (let i = ready.pop(); i !== undefined; i = ready.pop()) {
    out.push(steps[i]!)
    for (const w of waitedForBy.get(steps[i]!.id) ?? []) if (--waiting[w]! === 0) ready.push(w)
  }
  if (out.length < steps.length) {
    const done = new Set(out)
    const left = steps.filter((s) => !done.has(s))
    const unknown = left.flatMap((s) => s.needs.filter((n) => !at.has(n)))
    throw new Error(unknown.length > 0 ? `the run sheet needs steps that it has not: ${unknown.join(', ')}` : `the run sheet goes in a circle among ${left.map((s) => s.id).join(', ')}`)
  }
  return out
}
