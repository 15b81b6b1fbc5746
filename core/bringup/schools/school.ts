/** How each device is set up: by which school, where, and by which way its page is reached. */
import { whyNoLine } from '../../adoption/ways/meetingPoint'
import { isOlder } from '../../field/isOlder'
import type { Device, School, SetUpWay } from '../../plan'
import type { SiteModel } from '../../topology'

export interface SetUp {
  readonly school: School
  readonly at: 'bench' | 'place'
  readonly by: SetUpWay
}

/** As the day does it: what was chosen, where that is possible. */
export function setUpOf(model: SiteModel, device: Device): SetUp {
  const { adoptable, setUp } = model.profileOf(device.id)
  const isAdopted = adoptable && model.hasController
  const wanted = device.school ?? 'mixed'
  const school =
    wanted === 'prepared' && whyNotPrepared(model, device)
      ? 'mixed'
      : isAdopted
        ? wanted
        : 'own-page'
  return {
    school,
    at: device.setUpAt ?? 'bench',
    by: device.setUpBy && setUp.ways.includes(device.setUpBy) ? device.setUpBy : setUp.ways[0]!,
  }
}

/** Why a device cannot fetch all that it needs by itself; null where it can. */
export function whyNotPrepared(model: SiteModel, device: Device): string | null {
  const { adoptable, kind, factory, firmware } = model.profileOf(device.id)
  if (!adoptable) return 'no controller adopts one of its kind'
  if (!model.hasController) return 'the plan has no controller'
  if (kind === 'gateway' && model.controllerPlace?.kind !== 'internet')
    return 'the controller is behind it, and nobody gets there before it leads there'
  if (kind === 'bridge-radio') return 'it hears its other end only once it is set'
  if (kind === 'gateway') {
    const why =
      device.id === model.gateway?.id ? whyNoLine(model) : 'it is not the one with the line'
    if (why) return why
  } else if (factory.dhcp !== 'client') return 'as from its box it asks for no address'
  if (device.addressing.mode === 'fixed')
    return 'its address is typed in, and until then it has an automatic one'
  const now = device.firmware ?? firmware.shipped
  if (now && firmware.minimum && isOlder(now, firmware.minimum))
    return `its firmware ${now} is older than ${firmware.minimum}, the least that can be claimed`
  return null
}

export const schoolWords: Readonly<Record<School, string>> = {
  prepared: 'all of it from the controller',
  mixed: 'password and firmware by hand, the rest from the controller',
  'own-page': 'all of it by its own page',
}
export const wayNames: Readonly<Record<SetUpWay, string>> = {
  cable: 'its cable',
  'set-up-radio': 'its own set-up radio',
  'short-range': "a phone's short-range radio",
  adapter: 'a set-up adapter',
  console: 'its serial console',
}
