/**
 * The run sheet of the day, made from the plan. Everything is built and verified behind the new
 * gateway while the old router carries the site: bench first, then in
 * place (uplink, power, claim, verify, back up, and only then the leads of hosts, since an
 * unconfigured switch is one VLAN). The cut-over comes last
 * and is short: the line, then plugs. Every step names what must be done before.
 */
import TinyQueue from 'tinyqueue'
import { controllerUrl } from '../adoption'
import type { Device, Profile } from '../plan'
import { mayUnplug } from '../survey'
import { cableDepth, cablePath, type SiteModel } from '../topology'
import { benchSteps, ownPageSteps } from './benchSteps'
import {
  ELECTRIC,
  HEIGHT,
  isAloft,
  KEEP_POWER,
  locationOf,
  stepOf,
  type Add,
  type Step,
} from './step'

/** Equipment that no controller adopts and that frames have to pass. */
const PASSIVE: ReadonlySet<Profile['kind']> = new Set([
  'switch',
  'bridge-radio',
  'range-extender',
  'injector',
  'modem',
])

/**
 * Hands on one lead, s: laying and labelling it beforehand; moving its plug in the cut-over;
 * joining a network on the air (common practice).
 */
const LAY_LEAD_S = 60
const MOVE_PLUG_S = 30
const JOIN_AIR_S = 30
/** For a line to give an address or take a sign-in, s (common practice). */
const LINE_S = 60

const made = new WeakMap<SiteModel, Step[]>()

/** The same list for the same model. */
export function runSheetOf(model: SiteModel): Step[] {
  let steps = made.get(model)
  if (!steps) made.set(model, (steps = inOrder(new Day(model).steps())))
  return steps
}

class Day {
  private readonly all: Step[] = []
  private readonly adoptable: readonly Device[]
  private readonly passive: readonly Device[]
  private readonly placed = new Map<string, string>()
  private readonly add: Add = (d) => {
    this.all.push(stepOf(d))
    return d.id
  }

  constructor(private readonly model: SiteModel) {
    const rank: Partial<Record<Profile['kind'], number>> = {
      gateway: 0,
      switch: 1,
      'access-point': 2,
    }
    const rankOf = (d: Device): number => rank[model.profileOf(d.id).kind] ?? 9
    this.adoptable = model.devices
      .filter((d) => model.profileOf(d.id).adoptable)
      .sort(
        (a, b) =>
          rankOf(a) - rankOf(b) ||
          cableDepth(model, a.id) - cableDepth(model, b.id) ||
          (a.id < b.id ? -1 : 1),
      )
    this.passive = model.devices.filter(
      (d) => !model.profileOf(d.id).adoptable && PASSIVE.has(model.profileOf(d.id).kind),
    )
  }

  steps(): Step[] {
    if (this.adoptable.length === 0) return []
    const recorded = this.record()
    const benched = this.bench()
    this.placePassive(benched)
    const called = this.placeInfrastructure(benched)
    const leads = this.layLeads(called)
    const ready = [benched, ...this.adoptable.map((d) => `${d.id}.backup`), ...leads]
    const back = this.cutOver(recorded, ready)
    this.add({
      id: 'prove',
      kind: 'prove',
      title: 'Run the proof, then once more after a restart',
      needs: [...back, ...this.adoptable.map((d) => `${d.id}.backup`)],
      workSeconds: 300,
    })
    return this.all
  }

  private get benchAt(): string | null {
    return this.model.gateway ? locationOf(this.model, this.model.gateway) : null
  }

  private record(): string | null {
    const { uplink } = this.model
    if (!uplink) return null
    return this.add({
      id: 'record-hand-off',
      kind: 'record-hand-off',
      title: `Record the hand-off of ${uplink.name} and photograph the old router`,
      needs: [],
      workSeconds: 600,
      locationId: this.benchAt,
      words: [
        {
          label: 'Tag',
          text: uplink.handOff.vlan === null ? 'not known yet' : String(uplink.handOff.vlan),
        },
        { label: 'Kind', text: uplink.handOff.mode ?? 'not known yet' },
      ],
      blockedBy: mayUnplug(uplink)
        ? null
        : 'Facts of the hand-off are missing; complete them in Survey before anything is unplugged.',
    })
  }

  /** Gives the step after which the laptop is free again. */
  private bench(): string {
    const { model, add } = this
    let last = add({
      id: 'read-labels',
      kind: 'read-labels',
      title: 'Read the serials off the labels and compare them with the plan',
      needs: [],
      workSeconds: 60 * this.adoptable.length,
      locationId: this.benchAt,
      words: this.adoptable.map((d) => ({
        label: d.name,
        text: d.serial ?? 'no serial in the plan yet',
      })),
      blockedBy: this.adoptable.every((d) => d.serial)
        ? null
        : `No serial yet for ${this.adoptable
            .filter((d) => !d.serial)
            .map((d) => d.name)
            .join(', ')}; enter it in Survey.`,
    })
    for (const d of this.adoptable) last = benchSteps(model, d, last, this.benchAt, add)
    for (const d of this.passive)
      if (model.profileOf(d.id).factory.address)
        last = ownPageSteps(model, d, last, this.benchAt, add)
    return add({
      id: 'laptop-automatic',
      kind: 'laptop-automatic',
      title: 'Set the laptop back to an automatic address',
      needs: [last],
      workSeconds: 60,
      locationId: this.benchAt,
      words: [{ label: 'Address', text: 'automatic (DHCP)' }],
      action: { kind: 'laptop', plugInto: null, address: null },
    })
  }

  private placePassive(after: string): void {
    const { model, add } = this
    const plain = this.passive.filter((d) => !model.profileOf(d.id).factory.address)
    if (plain.length > 0) {
      const id = add({
        id: 'plain-switches',
        kind: 'plain-switches',
        title: `Place and power ${plain.map((d) => d.name).join(', ')}`,
        needs: [after],
        workSeconds: 120 * plain.length,
        locationId: locationOf(model, plain[0]!),
        safety: plain.some((d) => isAloft(model, d)) ? `${ELECTRIC} ${HEIGHT}` : ELECTRIC,
        action: { kind: 'power', deviceIds: plain.map((d) => d.id), on: true },
      })
      for (const d of plain) this.placed.set(d.id, id)
    }
    for (const d of this.passive.filter((x) => model.profileOf(x.id).factory.address)) {
      const at = locationOf(model, d)
      this.placed.set(
        d.id,
        add({
          id: `${d.id}.place`,
          kind: 'place',
          title: `Mount and power ${d.name}${at ? ` at ${model.plan.locations[at]!.name}` : ''}`,
          deviceId: d.id,
          needs: [after],
          workSeconds: isAloft(model, d) ? 1200 : 300,
          waitSeconds: model.profileOf(d.id).waits.bootSeconds,
          locationId: at,
          safety: isAloft(model, d) ? `${ELECTRIC} ${HEIGHT}` : ELECTRIC,
          words: this.cables(d, () => true),
          action: { kind: 'power', deviceIds: [d.id], on: true },
          ifExceeded: 'Look at its lamp; then open its page on the address that it was given.',
        }),
      )
    }
  }

  private cables(
    d: Device,
    which: (peerDeviceId: string) => boolean,
  ): { label: string; text: string }[] {
    return this.model.portsOf(d.id).flatMap((p) => {
      const peer = this.model.peerOf(p.id)
      return peer && which(peer.deviceId)
        ? [{ label: `port ${p.name}`, text: this.model.portName(peer.id) }]
        : []
    })
  }

  /**
   * Gateway, controller, switches, access points, by their uplinks alone. Gives what says that the
   * controller answers.
   */
  private placeInfrastructure(benched: string): string {
    const { model, add } = this
    const isAdoptable = new Set(this.adoptable.map((d) => d.id))
    const way = (id: string): string[] => (cablePath(model, id) ?? []).map(([out]) => out.deviceId)
    const wayTo = (id: string): string[] => way(id).filter((x) => isAdoptable.has(x))
    // What only passes frames on has to hang there before anything behind it is looked for.
    const carriersOf = (id: string): string[] => [
      ...new Set(way(id).flatMap((x) => this.placed.get(x) ?? [])),
    ]
    const controller = model.plan.controller.hostDeviceId
      ? model.plan.devices[model.plan.controller.hostDeviceId]
      : undefined
    const toController = controller ? [...new Set(wayTo(controller.id))] : []
    const url = controllerUrl(model)
    for (const d of this.adoptable) {
      const parent = wayTo(d.id).at(-1)
      const after =
        parent === undefined
          ? []
          : [`${parent}.${toController.includes(d.id) ? 'cable' : 'verify'}`]
      this.placeOne(d, [benched, ...after, ...carriersOf(d.id)])
    }
    // Devices between the gateway and the controller are cabled before it is started, and it before
    // any is claimed: until then nobody can call it.
    const called = controller
      ? add({
          id: 'controller-on',
          kind: 'controller-on',
          title: `Cable and start ${controller.name}`,
          needs: [
            benched,
            ...toController.map((id) => `${id}.cable`),
            ...carriersOf(controller.id),
          ],
          deviceId: controller.id,
          workSeconds: 180,
          waitSeconds: model.profileOf(controller.id).waits.bootSeconds,
          locationId: locationOf(model, controller),
          words: [
            ...this.cables(controller, () => true),
            { label: 'Address for devices', text: url ?? 'not planned yet' },
          ],
          safety: ELECTRIC,
          action: { kind: 'power', deviceIds: [controller.id], on: true },
          ifExceeded:
            "Ping its address from the laptop in management; look at its cable and its port's VLAN.",
        })
      : benched
    for (const d of this.adoptable) {
      const parent = wayTo(d.id).at(-1)
      this.adoptOne(d, [
        `${d.id}.cable`,
        called,
        ...(parent === undefined ? [] : [`${parent}.verify`]),
      ])
    }
    return called
  }

  private placeOne(device: Device, needs: string[]): void {
    const { model } = this
    const { waits, kind } = model.profileOf(device.id)
    const at = locationOf(model, device)
    const isUplink = (peerId: string): boolean =>
      cableDepth(model, peerId) < cableDepth(model, device.id)
    this.add({
      id: `${device.id}.cable`,
      kind: 'cable',
      title: `Mount ${device.name}${at ? ` in ${model.plan.locations[at]!.name}` : ''}, its uplink and nothing else`,
      deviceId: device.id,
      locationId: at,
      needs: [...new Set(needs)],
      workSeconds: kind === 'access-point' ? 900 : 300,
      words:
        kind === 'gateway'
          ? [{ label: 'Line', text: 'stays in the old router until the cut-over' }]
          : this.cables(device, isUplink),
      safety: kind === 'access-point' ? HEIGHT : ELECTRIC,
      waitSeconds: waits.bootSeconds,
      action: { kind: 'plug', deviceIds: [device.id] },
      ifExceeded:
        'Look at its lamp in the decoder: seeking an address means that the untagged VLAN of its port has no DHCP.',
    })
  }

  private adoptOne(device: Device, needs: string[]): void {
    const { waits } = this.model.profileOf(device.id)
    const id = (what: string): string => `${device.id}.${what}`
    const claimed = this.add({
      id: id('claim'),
      kind: 'claim',
      title: `Name and claim ${device.name}`,
      deviceId: device.id,
      needs: [...new Set(needs)],
      workSeconds: 60,
      words: [
        { label: 'Serial', text: device.serial ?? 'not in the plan yet' },
        { label: 'Name', text: device.name },
      ],
      follows: { deviceId: device.id, state: 'claimed' },
      ifExceeded: 'It may wait for its next call; then compare the serial with the label.',
    })
    const verified = this.add({
      id: id('verify'),
      kind: 'verify',
      title: `See ${device.name} in service`,
      deviceId: device.id,
      needs: [claimed],
      workSeconds: 30,
      waitSeconds: waits.firmwareSeconds + waits.applySeconds + waits.bootSeconds,
      follows: { deviceId: device.id, state: 'in-service' },
      whileWaiting: KEEP_POWER,
      ifExceeded:
        'Read its last report in Adopt; compare wanted and running firmware and configuration.',
    })
    this.add({
      id: id('backup'),
      kind: 'backup',
      title: `Back up ${device.name}`,
      deviceId: device.id,
      needs: [verified],
      workSeconds: 60,
      words: [{ label: 'File', text: `${device.id}-after.json` }],
    })
  }

  private get hosts(): Device[] {
    return this.model.devices.filter((d) => this.model.profileOf(d.id).kind === 'host')
  }
  /** Wired hosts by the device that their leads come from; where that is unknown by none. */
  private byFeeder(): Map<string | null, Device[]> {
    const groups = new Map<string | null, Device[]>()
    for (const h of this.hosts.filter((x) => x.wirelessNetworkId === null)) {
      const peer = this.model
        .portsOf(h.id)
        .map((p) => this.model.peerOf(p.id))
        .find((p) => p)
      const key = peer?.deviceId ?? null
      groups.set(key, [...(groups.get(key) ?? []), h])
    }
    return groups
  }
  private feederReady(id: string | null, otherwise: string): string {
    return id === null
      ? otherwise
      : this.adoptable.some((d) => d.id === id)
        ? `${id}.verify`
        : (this.placed.get(id) ?? otherwise)
  }

  /**
   * Whether hosts of a feeder cannot have been on the old network: the way to them is a radio path
   * that is new as well.
   */
  private isNew(feederId: string | null): boolean {
    return (
      feederId !== null &&
      (cablePath(this.model, feederId) ?? []).some(
        ([out, into]) =>
          this.model.linkAt(out.id)?.medium === 'radio' &&
          [out, into].some((p) => !this.model.plan.devices[p.deviceId]!.stays),
      )
    )
  }

  /**
   * What can be done for the hosts while they are still on the old network; those that were on none
   * are connected at once.
   */
  private layLeads(after: string): string[] {
    return [...this.byFeeder()].map(([id, hosts]) => {
      if (this.isNew(id)) return this.hostsOn(id, hosts, [this.feederReady(id, after)], false)
      const feeder = id === null ? undefined : this.model.plan.devices[id]
      return this.add({
        id: `${id ?? 'uncabled'}.host-leads`,
        kind: 'host-leads',
        title:
          `Lay and label ${hosts.length === 1 ? 'the lead of' : `${hosts.length} leads for`} ` +
          `${hosts.length === 1 ? hosts[0]!.name : 'hosts'}${feeder ? ` at ${feeder.name}` : ''}, ` +
          'not plugged in',
        deviceId: id,
        locationId: feeder ? locationOf(this.model, feeder) : null,
        needs: [this.feederReady(id, after)],
        workSeconds: LAY_LEAD_S * hosts.length,
        words: hosts.map((h) => ({ label: h.name, text: this.attachment(h) })),
      })
    })
  }

  /** Old router out, line in, plugs over: as short as it can be. Gives what the proof waits for. */
  private cutOver(recorded: string | null, ready: readonly string[]): string[] {
    const { model, add } = this
    const { uplink } = model
    const outage = { isOutage: true }
    const unplugged = uplink
      ? add({
          ...outage,
          id: 'unplug-old',
          kind: 'unplug-old',
          title: 'Cut over: unplug the old router',
          needs: [recorded!, ...ready],
          workSeconds: 60,
          locationId: this.benchAt,
          words: [
            {
              label: 'Way back',
              text: 'plug the old router and the hosts in again; keep it until the proof is done',
            },
          ],
        })
      : undefined
    const line = uplink
      ? add({
          ...outage,
          id: 'plug-line',
          kind: 'plug-line',
          title: `Plug ${uplink.name} into ${uplink.portId ? model.portName(uplink.portId) : 'the gateway'}`,
          needs: [unplugged!],
          workSeconds: 60,
          waitSeconds: LINE_S,
          locationId: this.benchAt,
          blockedBy: uplink.portId
            ? null
            : 'The plan does not say which port the line goes into; choose it in Wiring.',
          action: { kind: 'plug-line' },
          ifExceeded:
            'No address on the line: compare tag, kind and account with what was recorded. ' +
            'After a quarter of an hour go back to the old router.',
        })
      : undefined
    const after = line ? [line] : [...ready]
    const back = [...this.byFeeder()]
      .filter(([id]) => !this.isNew(id))
      .map(([id, hosts]) => this.hostsOn(id, hosts, after, true))
    const air = this.hosts.filter((h) => h.wirelessNetworkId !== null)
    if (air.length > 0)
      back.push(
        add({
          ...outage,
          id: 'air.hosts-on',
          kind: 'hosts-on',
          title: `Join ${air.length === 1 ? air[0]!.name : `${air.length} hosts`} to the networks on the air`,
          needs: after,
          workSeconds: JOIN_AIR_S * air.length,
          waitSeconds: Math.max(...air.map((h) => model.profileOf(h.id).waits.bootSeconds)),
          words: air.map((h) => ({ label: h.name, text: this.attachment(h) })),
          action: { kind: 'power', deviceIds: air.map((h) => h.id), on: true },
        }),
      )
    return back.length > 0 ? [...back, ...(line ? [line] : [])] : after
  }

  private hostsOn(
    feederId: string | null,
    hosts: readonly Device[],
    needs: readonly string[],
    isOutage: boolean,
  ): string {
    const { model } = this
    const feeder = feederId === null ? undefined : model.plan.devices[feederId]
    const which =
      hosts.length === 1 ? `the plug of ${hosts[0]!.name}` : `${hosts.length} plugs of hosts`
    return this.add({
      isOutage,
      id: `${feederId ?? 'uncabled'}.hosts-on`,
      kind: 'hosts-on',
      title: `${isOutage ? 'Move' : 'Connect'} ${which}${feeder ? ` to ${feeder.name}` : ''}`,
      deviceId: feederId,
      locationId: feeder ? locationOf(model, feeder) : null,
      needs: [...needs],
      workSeconds: (isOutage ? MOVE_PLUG_S : LAY_LEAD_S) * hosts.length,
      waitSeconds: Math.max(...hosts.map((h) => model.profileOf(h.id).waits.bootSeconds)),
      words: hosts.map((h) => ({ label: h.name, text: this.attachment(h) })),
      action: { kind: 'power', deviceIds: hosts.map((h) => h.id), on: true },
    })
  }

  private attachment(host: Device): string {
    if (host.wirelessNetworkId)
      return `joins '${this.model.plan.wirelessNetworks[host.wirelessNetworkId]?.name ?? ''}'`
    const peer = this.model
      .portsOf(host.id)
      .map((p) => this.model.peerOf(p.id))
      .find((p) => p)
    return peer ? this.model.portName(peer.id) : 'not cabled in the plan'
  }
}

/**
 * Steps so that each stands after what it needs (Kahn 1962), otherwise in the order in which they
 * were written.
 */
export function inOrder(steps: readonly Step[]): Step[] {
  const at = new Map(steps.map((s, i) => [s.id, i]))
  const waiting = steps.map((s) => new Set(s.needs).size)
  const waitedForBy = new Map<string, number[]>()
  steps.forEach((s, i) => {
    for (const n of new Set(s.needs)) waitedForBy.set(n, [...(waitedForBy.get(n) ?? []), i])
  })
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
    throw new Error(
      unknown.length > 0
        ? `the run sheet needs steps that it has not: ${unknown.join(', ')}`
        : `the run sheet goes in a circle among ${left.map((s) => s.id).join(', ')}`,
    )
  }
  return out
}
