/** Devices on the bench, in place, claimed, verified, backed up. */
import { inPlan } from '../plan'
import { benchSteps, ownPageSteps } from '../bringup/benchSteps'
import { setUpOf } from '../bringup/schools/school'
import { slipWords } from '../bringup/schools/slip'
import type { Day, DayPart } from '../bringup/day'
import { ELECTRIC, handsFor, HEIGHT, KEEP_POWER, locationOf } from '../bringup/step'
import type { Device } from '../plan'
import { cableDepth, cablePath } from '../topology'
import { listWords } from '../words'
import { controllerUrl } from './configuration'
import { withoutController } from './school/without'

/** Hands on the uplink of what hangs already, s (common practice). */
const PLUG_S = 120
/** To open a page, save its settings and look whether the file is whole, s (common practice). */
const KEEP_S = 180
/** To fetch files and notes while there is a way to the internet, s (common practice). */
const FETCH_S = 900

/** What a radio of a device's own, or a phone at its side, may cut off. */
function fetchFirst({ model, add, gear }: Day): string[] {
  const cutOff = gear.filter((d) => {
    const { school, by } = setUpOf(model, d)
    return school !== 'prepared' && (by === 'set-up-radio' || by === 'short-range')
  })
  if (cutOff.length === 0) return []
  const held = (d: Device): ReadonlySet<string> => new Set(d.licencesHeld)
  return [
    add({
      id: 'fetch',
      kind: 'fetch',
      title: 'Fetch what will be needed while there is no internet',
      needs: [],
      workSeconds: FETCH_S,
      words: [
        {
          label: 'Cut off',
          text: `whoever speaks to ${listWords(cutOff.map((d) => d.name))} by radio may have no internet`,
        },
        ...cutOff.flatMap((d) => {
          const { licences } = model.profileOf(d.id)
          const wanted = model.firmwareWanted(d.id)
          return [
            ...(wanted ? [{ label: d.name, text: `firmware ${wanted} and its notes` }] : []),
            ...licences
              .filter((l) => !held(d).has(l.id))
              .map((l) => ({ label: d.name, text: `${l.name}: ${l.unlocks}` })),
          ]
        }),
      ],
    }),
  ]
}

/** Gives the step after which the laptop is free again. */
function bench(day: Day): string[] {
  const { model, add } = day
  const own = day.passive.filter((d) => model.profileOf(d.id).factory.address)
  const byHand = day.adoptable.filter((d) => setUpOf(model, d).school !== 'prepared')
  const placeOf = (d: Device): string | null =>
    setUpOf(model, d).at === 'place' ? locationOf(model, d) : day.benchAt
  const labelled = [...day.adoptable, ...day.watched]
  if (day.adoptable.length + own.length === 0) return []
  let last = add({
    id: 'read-labels',
    kind: 'read-labels',
    title: 'Read the serials off the labels and compare them with the plan',
    needs: fetchFirst(day),
    workSeconds: 60 * labelled.length,
    locationId: day.benchAt,
    words: [
      ...labelled.map((d) => ({
        label: d.name,
        text: d.serial ?? 'no serial in the plan yet',
      })),
      // Whom nobody adopts has a label too, and the plan may know it.
      ...own
        .filter((d) => !labelled.includes(d))
        .flatMap((d) => (d.serial ? [{ label: d.name, text: d.serial }] : [])),
    ],
    blockedBy: labelled.every((d) => d.serial)
      ? null
      : {
          says: `No serial yet for ${listWords(
            labelled.filter((d) => !d.serial).map((d) => d.name),
          )}: enter it in`,
          sheet: 'survey',
        },
  })
  const used = [...byHand, ...own].filter((d) => d.stays)
  if (used.length > 0)
    last = add({
      id: 'keep-before',
      kind: 'keep-before',
      title:
        `Save what ${listWords(used.map((d) => d.name))} ${used.length === 1 ? 'runs' : 'run'} ` +
        'now, before anything is touched',
      needs: [last],
      workSeconds: KEEP_S * used.length,
      words: used.map((d) => ({
        label: d.name,
        text:
          `${d.id}-before as its page gives it, with digest and date; a photograph of its pages ` +
          'where it gives none',
      })),
    })
  // Card and aerials go in while nothing has power, whoever it is that they go into.
  const fitted = day.all.filter((s) => s.kind === 'antennas').map((s) => s.id)
  for (const d of byHand) last = benchSteps(model, d, [last], placeOf(d), add)
  for (const d of own)
    last = (model.profileOf(d.id).adoptable ? benchSteps : ownPageSteps)(
      model,
      d,
      model.profileOf(d.id).kind === 'modem' ? [last, ...fitted] : [last],
      placeOf(d),
      add,
    )
  if (byHand.length + own.length === 0) return [last]
  return [
    add({
      id: 'laptop-automatic',
      kind: 'laptop-automatic',
      title: 'Set the laptop back to an automatic address',
      needs: [last],
      workSeconds: 60,
      locationId: day.benchAt,
      words: [{ label: 'Address', text: 'automatic (DHCP)' }],
      action: { kind: 'laptop', plugInto: null, address: null },
    }),
  ]
}

/**
 * Gateway, controller, switches, access points, by their uplinks alone. Gives what says that the
 * controller answers.
 */
function placeInfrastructure(day: Day): string[] {
  const { model, add } = day
  const benched = day.after('bench')
  const isAdoptable = new Set(day.adoptable.map((d) => d.id))
  const way = (id: string): string[] => (cablePath(model, id) ?? []).map(([out]) => out.deviceId)
  const wayTo = (id: string): string[] => way(id).filter((x) => isAdoptable.has(x))
  // What only passes frames on has to hang there before anything behind it is looked for.
  const carriersOf = (id: string): string[] => [
    ...new Set(way(id).flatMap((x) => day.placed.get(x) ?? [])),
  ]
  const { controller } = model
  const toController = controller ? [...new Set(wayTo(controller.id))] : []
  const url = controllerUrl(model)
  for (const d of day.adoptable) {
    const parent = wayTo(d.id).at(-1)
    const after =
      parent === undefined
        ? []
        : [`${parent}.${day.isControllerFar || toController.includes(d.id) ? 'cable' : 'verify'}`]
    placeOne(day, d, [...benched, ...after, ...carriersOf(d.id)])
  }
  // On the internet everything can be prepared before anything is unpacked.
  if (model.controllerPlace?.kind === 'internet') signIn(day, [])
  if (day.isControllerFar)
    return [...day.adoptable.map((d) => `${d.id}.cable`), ...day.watched.flatMap(placedBy(day))]
  // Devices between the gateway and the controller are cabled before it is started, and it before
  // any is claimed: until then nobody can call it.
  const called = controller
    ? add({
        id: 'controller-on',
        kind: 'controller-on',
        title: `Cable and start ${controller.name}`,
        needs: [
          ...benched,
          ...toController.map((id) => `${id}.cable`),
          ...carriersOf(controller.id),
        ],
        deviceId: controller.id,
        workSeconds: 180,
        waitSeconds: model.profileOf(controller.id).waits.bootSeconds,
        locationId: locationOf(model, controller),
        words: [
          ...day.cables(controller, () => true),
          { label: 'Address for devices', text: url ?? 'not planned yet' },
        ],
        safety: ELECTRIC,
        action: { kind: 'power', deviceIds: [controller.id], on: true },
        ifExceeded:
          "Ping its address from the laptop in management; look at its cable and its port's VLAN.",
      })
    : signIn(day, benched)
  for (const d of day.adoptable) {
    const parent = wayTo(d.id).at(-1)
    adoptOne(day, d, [
      `${d.id}.cable`,
      ...(called === undefined ? [] : [called]),
      ...(parent === undefined ? [] : [`${parent}.verify`]),
    ])
  }
  for (const d of day.watched) {
    const parent = wayTo(d.id).at(-1)
    adoptOne(day, d, [
      ...placedBy(day)(d),
      ...(called === undefined ? [] : [called]),
      ...(parent === undefined ? [] : [`${parent}.verify`]),
    ])
  }
  return [
    ...(called === undefined ? [] : [called]),
    ...[...day.adoptable, ...day.watched].map((d) => `${d.id}.backup`),
  ]
}

/** One that is on only when somebody needs it is switched off again when all is proven. */
function stopController(day: Day): string[] {
  const { controllerPlace: place, plan } = day.model
  if (plan.controller.runs !== 'when-needed' || place?.kind !== 'host') return []
  const { stops } = withoutController(day.model)
  return [
    day.add({
      id: 'controller-stop',
      kind: 'controller-stop',
      title: `Stop the controller on ${place.device.name}, until somebody needs it again`,
      needs: day.after('prove', 'try'),
      deviceId: place.device.id,
      locationId: locationOf(day.model, place.device),
      workSeconds: 60,
      words: [
        { label: 'From then on', text: stops.join(' ') },
        {
          label: 'Who starts it',
          text: 'leave with the site where it is, how it is started, and which account opens it',
        },
      ],
    }),
  ]
}

/** Inside the gateway, or on the internet: nothing of its own is cabled, an account is made. */
function signIn({ model, add }: Day, needs: readonly string[]): string | undefined {
  const { controllerPlace: place } = model
  if (place?.kind !== 'gateway' && place?.kind !== 'internet') return needs[0]
  const { accounts } = model.plan.controller
  const isInside = place.kind === 'gateway'
  return add({
    id: 'controller-account',
    kind: 'controller-account',
    title: isInside
      ? `Sign in to the controller inside ${place.device.name}, and keep its account`
      : `Sign in to the controller at ${place.name}, and keep its account`,
    needs: isInside ? [`${place.device.id}.cable`] : [...needs],
    ...(isInside ? { deviceId: place.device.id, locationId: locationOf(model, place.device) } : {}),
    workSeconds: 180,
    words: [
      { label: 'Address for devices', text: controllerUrl(model) ?? 'not planned yet' },
      {
        label: 'Account',
        text:
          accounts === 'hosted'
            ? 'of the service on the internet, of whoever owns the site and not of whoever sets it up'
            : 'its own; keep the name and password where the site finds them again',
      },
    ],
  })
}

const placedBy =
  (day: Day) =>
  (d: Device): string[] =>
    day.placed.has(d.id) ? [day.placed.get(d.id)!] : []

/** Behind a tunnel, once the line carries it. */
function adoptFar(day: Day): string[] {
  if (!day.isControllerFar) return []
  const account = day.all.find((s) => s.kind === 'controller-account')
  const cut = day.after('cut over')
  const line = [...(cut.length > 0 ? cut : day.after('adopt')), ...(account ? [account.id] : [])]
  const all = [...day.adoptable, ...day.watched]
  const isAdoptable = new Set(day.adoptable.map((d) => d.id))
  for (const d of all) {
    const parent = (cablePath(day.model, d.id) ?? [])
      .map(([out]) => out.deviceId)
      .findLast((id) => isAdoptable.has(id))
    adoptOne(day, d, [...line, ...(parent === undefined ? [] : [`${parent}.verify`])])
  }
  return all.map((d) => `${d.id}.backup`)
}

function placeOne(day: Day, device: Device, needs: string[]): void {
  const { model } = day
  const { waits, kind } = model.profileOf(device.id)
  const at = locationOf(model, device)
  const isUplink = (peerId: string): boolean =>
    cableDepth(model, peerId) < cableDepth(model, device.id)
  const { school, at: setUpAt } = setUpOf(model, device)
  const hangs = school !== 'prepared' && setUpAt === 'place'
  day.add({
    id: `${device.id}.cable`,
    kind: 'cable',
    title: hangs
      ? `Plug the uplink of ${device.name} in, and nothing else`
      : `Mount ${device.name}${at ? ` in ${inPlan(model.plan.locations, at).name}` : ''}, ` +
        'its uplink and nothing else',
    deviceId: device.id,
    locationId: at,
    needs: [...new Set(needs)],
    ...handsFor(model, device),
    workSeconds: hangs ? PLUG_S : kind === 'access-point' ? 900 : 300,
    words: [
      ...(kind === 'gateway'
        ? [{ label: 'Line', text: 'stays in the old router until the cut-over' }]
        : day.cables(device, isUplink)),
      ...(school === 'prepared' ? slipWords(model, device) : []),
    ],
    safety: kind === 'access-point' ? HEIGHT : ELECTRIC,
    waitSeconds: waits.bootSeconds,
    action: { kind: 'plug', deviceIds: [device.id] },
    ifExceeded:
      'Look at its lamp in the decoder: seeking an address means that the untagged VLAN of its port has no DHCP.',
  })
}

function adoptOne(day: Day, device: Device, needs: string[]): void {
  const { waits } = day.model.profileOf(device.id)
  const id = (what: string): string => `${device.id}.${what}`
  const claimed = day.add({
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
    follows: { kind: 'device', deviceId: device.id, state: 'claimed' },
    ifExceeded: 'It may wait for its next call; then compare the serial with the label.',
  })
  const verified = day.add({
    id: id('verify'),
    kind: 'verify',
    title: `See ${device.name} in service`,
    deviceId: device.id,
    needs: [claimed],
    workSeconds: 30,
    waitSeconds: waits.firmwareSeconds + waits.applySeconds + waits.bootSeconds,
    follows: { kind: 'device', deviceId: device.id, state: 'in-service' },
    whileWaiting: KEEP_POWER,
    ifExceeded:
      'Read its last report in Adopt; compare wanted and running firmware and configuration.',
  })
  day.add({
    id: id('backup'),
    kind: 'backup',
    title: `Back up ${device.name}`,
    deviceId: device.id,
    needs: [verified],
    workSeconds: 60,
    words: [{ label: 'File', text: `${device.id}-after.json` }],
  })
}

export const adoptionDay: readonly DayPart[] = [
  { phase: 'bench', steps: bench },
  { phase: 'adopt', steps: placeInfrastructure },
  { phase: 'let in', steps: adoptFar },
  { phase: 'leave', steps: stopController },
]
