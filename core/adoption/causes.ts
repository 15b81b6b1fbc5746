/** The controller is not where it is looked for; devices are not who or what the plan says. */
import {
  about,
  ids,
  stateOf,
  behind,
  type Cause,
  type CauseFinder,
  type Evidence,
} from '../proof/cause'
import { cableDepth } from '../topology'
import { listWords } from '../words'
import { controllerUrl } from './configuration'
import { nearestSerial } from './serials'

/**
 * Devices look for the controller at its planned address: where it is off, or got another one, all
 * of them wait and none says why.
 */
function controllerAway({ model, results, wrong, facts }: Evidence): Cause[] {
  const host = model.controller
  const url = controllerUrl(model)
  const own = results.find((r) => r.test.kind === 'lease' && r.test.from === host?.id)
  if (!host || !url || !own?.observation) return []
  const isOff = own.observation.outcome === 'off'
  const got = own.observation.address
  if (!isOff && (got === null || got === host.addressing.address)) return []
  const waiting = model.devices.filter(
    (d) => model.profileOf(d.id).adoptable && stateOf(facts, d.id) !== 'in-service',
  )
  const explains = new Set(
    ids([...about(wrong, [host.id]), ...waiting.flatMap((d) => behind(model, wrong, d.id))]),
  )
  const calls =
    waiting.length === 0
      ? []
      : [
          `${listWords(waiting.map((d) => d.name))} ${waiting.length === 1 ? 'waits' : 'wait'} for it`,
        ]
  return [
    isOff
      ? {
          kind: 'controller-away',
          text: `${host.name}, which hosts the controller, is switched off or not there.`,
          evidence: ['nothing could be asked from it', ...calls],
          checks: ['Switch it on and look at its cable.', 'Then try again what failed.'],
          explains: [...explains],
          subjects: [host.id],
        }
      : {
          kind: 'controller-away',
          text: `The controller is at ${got}, and devices look for it at ${url}.`,
          evidence: [
            host.hardwareAddress
              ? `${host.name} asks with another hardware address than ${host.hardwareAddress}, or its ` +
                'gateway does not run this plan'
              : `the plan has no hardware address of ${host.name}, so nothing reserves ` +
                `${host.addressing.address} for it`,
            ...calls,
          ],
          checks: [
            `Read the hardware address of ${host.name} where it runs, and compare it with the plan in Addresses.`,
            'Send the gateway its configuration, and let the controller ask for an address again.',
          ],
          explains: [...explains],
          subjects: [host.id],
        },
  ]
}

function mistypedSerials({ model, wrong, facts }: Evidence): Cause[] {
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

function missingDevices({ model, wrong, facts }: Evidence): Cause[] {
  // From the gateway outwards: what hangs on a missing one is missing because of it.
  const outwards = [...model.devices].sort(
    (a, b) => cableDepth(model, a.id) - cableDepth(model, b.id),
  )
  // Without a controller nobody says of any whether it is.
  if (!model.hasController) return []
  return outwards.flatMap((d): Cause[] => {
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

function drifts({ model, wrong, facts }: Evidence): Cause[] {
  return facts.devices
    .filter((d) => d.state === 'drifted' && model.plan.devices[d.deviceId])
    .map((d): Cause => ({
      kind: 'drift',
      text: `${model.device(d.deviceId).name} runs another configuration than planned.`,
      evidence: ["the digest that it reports differs from the plan's"],
      checks: ['Load the plan again from Adopt.', 'Or take the change over into the plan.'],
      explains: ids(behind(model, wrong, d.deviceId)),
      subjects: [d.deviceId],
    }))
}

export const adoptionCauses: readonly CauseFinder[] = [
  { turn: 5, find: controllerAway },
  { turn: 10, find: mistypedSerials },
  { turn: 20, find: missingDevices },
  { turn: 90, find: drifts },
]
