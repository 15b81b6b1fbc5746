/**
 * What to do about a device that is no longer heard, from what costs least to what costs most; put
 * before the rest of the run sheet while it is lost.
 */
import { resetWords } from './schools/reach'
import { laptopBeside } from './staging/table'
import {
  ELECTRIC,
  HEIGHT,
  isAloft,
  KEEP_POWER,
  locationOf,
  SITE_PASSWORD,
  stepOf,
  type Draft,
  type Step,
} from './step'
import type { SiteModel } from '../topology'

/** What the ids of all steps about one lost device begin with. */
export const recoveryPrefix = (deviceId: string): string => `${deviceId}.lost-`

export function recoveryStepsOf(model: SiteModel, deviceId: string): Step[] {
  const device = model.plan.devices[deviceId]
  if (!device) return []
  const { waits, kind, factory } = model.profileOf(deviceId)
  const { name } = device
  const steps: Step[] = []
  const base = { deviceId, locationId: locationOf(model, device) }
  const add = (d: Draft): string => {
    steps.push(stepOf({ ...base, ...d }))
    return d.id
  }
  const id = (what: string): string => recoveryPrefix(deviceId) + what
  const [up] = model.portsOf(deviceId).flatMap((p) => model.peerOf(p.id) ?? [])
  const looked = add({
    id: id('look'),
    kind: 'lost-look',
    title: `${name} is lost: look at its lamp, its power and its cable`,
    needs: [],
    workSeconds: 180,
    safety: isAloft(model, device) ? HEIGHT : null,
    words: [
      ...(up ? [{ label: 'Its cable comes from', text: model.portName(up.id) }] : []),
      { label: 'Lamp', text: 'the decoder says what it waits for' },
    ],
    ifExceeded: 'What is dark has no power; what seeks an address has one and no way.',
  })
  const again = add({
    id: id('restart'),
    kind: 'lost-restart',
    title: `Take the power of ${name} away and give it back`,
    needs: [looked],
    workSeconds: 60,
    waitSeconds: waits.bootSeconds + waits.applySeconds + waits.bootSeconds,
    safety: ELECTRIC,
    action: { kind: 'plug', deviceIds: [deviceId] },
    whileWaiting:
      'A device that tries a configuration goes back to the one before by itself; that takes minutes.',
    ifExceeded: 'Then it does not find the controller with what it has; go on.',
  })
  const reset = add({
    id: id('reset'),
    kind: 'lost-reset',
    title: `Set ${name} back to its factory settings`,
    needs: [again],
    workSeconds: 60,
    waitSeconds: waits.bootSeconds,
    action: { kind: 'reset', deviceIds: [deviceId] },
    noReturn: {
      why: 'It forgets all that it was told.',
      wayBack: 'Its configuration is in the last release, and in the backup that was kept.',
    },
    leavesOpen: {
      says: `${name} is as from its box, with its factory password.`,
      until: [id('service')],
      orElse: 'Take its power away until it goes on.',
    },
    words: [
      ...resetWords(model, device),
      { label: 'Its place', text: 'in the controller waits for it: it is claimed again' },
    ],
    whileWaiting: 'Hosts behind it are cut off until it is back.',
  })
  let ready = reset
  if (kind === 'gateway' && factory.address) {
    const own = factory.address.split('/')[0]!
    const laptop = laptopBeside(model, device)
    const plugged = add({
      id: id('laptop'),
      kind: 'lost-laptop',
      title: `Laptop into ${name}, address on its factory subnet`,
      needs: [reset],
      workSeconds: 90,
      words: [
        { label: 'Laptop address', text: laptop ?? 'none fits beside it' },
        { label: 'Page', text: `https://${own}` },
        { label: 'Account', text: factory.account ?? 'none' },
      ],
      action: { kind: 'laptop', plugInto: deviceId, address: laptop },
    })
    const password = add({
      id: id('password'),
      kind: 'lost-password',
      title: `Replace the factory password of ${name}`,
      needs: [plugged],
      workSeconds: 60,
      words: [{ label: 'New password', text: SITE_PASSWORD, secret: true }],
      action: { kind: 'page', deviceId, address: own, act: 'password' },
    })
    ready = add({
      id: id('load'),
      kind: 'lost-load',
      title: `Load the released configuration into ${name}`,
      needs: [password],
      workSeconds: 120,
      waitSeconds: waits.applySeconds + waits.bootSeconds,
      words: [{ label: 'File', text: `${deviceId}.json from Adopt` }],
      whileWaiting: KEEP_POWER,
      action: { kind: 'page', deviceId, address: own, act: 'configuration' },
    })
    ready = add({
      id: id('unplug'),
      kind: 'lost-unplug',
      title: 'Laptop out, back to automatic',
      needs: [ready],
      workSeconds: 30,
      action: { kind: 'laptop', plugInto: null, address: null },
    })
  }
  const claimed = add({
    id: id('claim'),
    kind: 'lost-claim',
    title: `Claim ${name} again, by the serial on its label`,
    needs: [ready],
    workSeconds: 60,
    follows: { kind: 'device', deviceId, state: 'claimed' },
    ifExceeded:
      'The controller gives its place free once the device that it knew has been silent for three intervals.',
  })
  add({
    id: id('service'),
    kind: 'lost-service',
    title: `${name} is in service again`,
    needs: [claimed],
    workSeconds: 30,
    waitSeconds: 0,
    follows: { kind: 'device', deviceId, state: 'in-service' },
  })
  return steps
}

/** A step of what is done about lost devices, by its id. */
export function recoveryStepOf(model: SiteModel, stepId: string): Step | undefined {
  for (const d of model.devices) {
    const found = stepId.startsWith(recoveryPrefix(d.id))
      ? recoveryStepsOf(model, d.id).find((s) => s.id === stepId)
      : undefined
    if (found) return found
  }
  return undefined
}
