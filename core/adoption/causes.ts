/** Devices that are not who or what the plan says. */
import { nearestSerial } from './serials'
import { ids, stateOf, behind, type Cause, type CauseFinder, type Evidence } from '../proof/cause'

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
  { turn: 10, find: mistypedSerials },
  { turn: 20, find: missingDevices },
  { turn: 90, find: drifts },
]
