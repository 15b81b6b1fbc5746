/** What passes frames on, and the leads of hosts: laid beforehand, plugged over in the cut-over. */
import { inPlan } from '../plan'
import type { Day, DayPart } from '../bringup/day'
import { ELECTRIC, handsFor, HEIGHT, isAloft, locationOf } from '../bringup/step'
import type { Device } from '../plan'
import { cablePath } from './needs'

/** Hands on one lead, s: laying and labelling it; moving its plug (common practice). */
const LAY_LEAD_S = 60
const MOVE_PLUG_S = 30

function placePassive(day: Day): string[] {
  const { model, add } = day
  const after = day.after('bench')
  const plain = day.passive.filter((d) => !model.profileOf(d.id).factory.address)
  if (plain.length > 0) {
    const id = add({
      id: 'plain-switches',
      kind: 'plain-switches',
      title: `Place and power ${plain.map((d) => d.name).join(', ')}`,
      needs: after,
      workSeconds: 120 * plain.length,
      locationId: locationOf(model, plain[0]!),
      safety: plain.some((d) => isAloft(model, d)) ? `${ELECTRIC} ${HEIGHT}` : ELECTRIC,
      action: { kind: 'power', deviceIds: plain.map((d) => d.id), on: true },
    })
    for (const d of plain) day.placed.set(d.id, id)
  }
  for (const d of day.passive.filter((x) => model.profileOf(x.id).factory.address)) {
    const at = locationOf(model, d)
    day.placed.set(
      d.id,
      add({
        id: `${d.id}.place`,
        kind: 'place',
        title: `Mount and power ${d.name}${at ? ` at ${inPlan(model.plan.locations, at).name}` : ''}`,
        deviceId: d.id,
        needs: after,
        ...handsFor(model, d),
        workSeconds: isAloft(model, d) ? 1200 : 300,
        waitSeconds: model.profileOf(d.id).waits.bootSeconds,
        locationId: at,
        safety:
          isAloft(model, d) || model.profileOf(d.id).kind === 'access-point'
            ? `${ELECTRIC} ${HEIGHT}`
            : ELECTRIC,
        words: [
          ...(model.profileOf(d.id).kind === 'gateway' && model.lines.length > 0
            ? [{ label: 'Line', text: 'stays in the old router until the cut-over' }]
            : []),
          ...day.cables(d, () => true),
        ],
        action: { kind: 'plug', deviceIds: [d.id] },
        ifExceeded: 'Look at its lamp; then open its page on the address that it was given.',
      }),
    )
  }
  return [...new Set(day.placed.values())]
}

/** Wired hosts by the device that their leads come from; where that is unknown by none. */
function byFeeder(day: Day): Map<string | null, Device[]> {
  const groups = new Map<string | null, Device[]>()
  for (const h of day.hosts.filter((x) => x.wirelessNetworkId === null)) {
    const peer = day.model
      .portsOf(h.id)
      .map((p) => day.model.peerOf(p.id))
      .find((p) => p)
    const key = peer?.deviceId ?? null
    groups.set(key, [...(groups.get(key) ?? []), h])
  }
  return groups
}

function feederReady(day: Day, id: string | null, otherwise: string | undefined): string[] {
  const ready =
    id === null
      ? otherwise
      : day.adoptable.some((d) => d.id === id)
        ? `${id}.${day.isControllerFar ? 'cable' : 'verify'}`
        : (day.placed.get(id) ?? otherwise)
  return ready === undefined ? [] : [ready]
}

/**
 * Whether hosts of a feeder cannot have been on the old network: the way to them is a radio path
 * that is new as well.
 */
function isNew(day: Day, feederId: string | null): boolean {
  return (
    feederId !== null &&
    (cablePath(day.model, feederId) ?? []).some(
      ([out, into]) =>
        day.model.linkAt(out.id)?.medium === 'radio' &&
        [out, into].some((p) => !day.model.device(p.deviceId).stays),
    )
  )
}

/**
 * What can be done for the hosts while they are still on the old network; those that were on none
 * are connected at once.
 */
function layLeads(day: Day): string[] {
  const after = day.after('adopt', 'place', 'bench')[0]
  return [...byFeeder(day)].map(([id, hosts]) => {
    if (isNew(day, id)) return hostsOn(day, id, hosts, feederReady(day, id, after), false)
    const feeder = id === null ? undefined : day.model.plan.devices[id]
    return day.add({
      id: `${id ?? 'uncabled'}.host-leads`,
      kind: 'host-leads',
      title:
        `Lay and label ${hosts.length === 1 ? 'the lead of' : `${hosts.length} leads for`} ` +
        `${hosts.length === 1 ? hosts[0]!.name : 'hosts'}${feeder ? ` at ${feeder.name}` : ''}, ` +
        'not plugged in',
      deviceId: id,
      locationId: feeder ? locationOf(day.model, feeder) : null,
      needs: feederReady(day, id, after),
      workSeconds: LAY_LEAD_S * hosts.length,
      words: hosts.map((h) => ({ label: h.name, text: day.attachment(h) })),
    })
  })
}

function hostsOn(
  day: Day,
  feederId: string | null,
  hosts: readonly Device[],
  needs: readonly string[],
  isOutage: boolean,
): string {
  const { model } = day
  const feeder = feederId === null ? undefined : model.plan.devices[feederId]
  const which =
    hosts.length === 1 ? `the plug of ${hosts[0]!.name}` : `${hosts.length} plugs of hosts`
  return day.add({
    isOutage,
    id: `${feederId ?? 'uncabled'}.hosts-on`,
    kind: 'hosts-on',
    title: `${isOutage ? 'Move' : 'Connect'} ${which}${feeder ? ` to ${feeder.name}` : ''}`,
    deviceId: feederId,
    locationId: feeder ? locationOf(model, feeder) : null,
    needs: [...needs],
    workSeconds: (isOutage ? MOVE_PLUG_S : LAY_LEAD_S) * hosts.length,
    waitSeconds: Math.max(...hosts.map((h) => model.profileOf(h.id).waits.bootSeconds)),
    words: hosts.map((h) => ({ label: h.name, text: day.attachment(h) })),
    action: { kind: 'power', deviceIds: hosts.map((h) => h.id), on: true },
  })
}

/** Plugs over, behind the line where there is one. */
function connect(day: Day): string[] {
  const line = day.after('cut over')
  const needs = line.length > 0 ? line : day.after('bench', 'adopt', 'lay')
  return [...byFeeder(day)]
    .filter(([id]) => !isNew(day, id))
    .map(([id, hosts]) => hostsOn(day, id, hosts, needs, true))
}

export const wiringDay: readonly DayPart[] = [
  { phase: 'place', steps: placePassive },
  { phase: 'lay', steps: layLeads },
  { phase: 'connect', steps: connect },
]
