/**
 * The laptop on the day: for each factory subnet that is met its own address, what to type, which
 * page to open as whom, and what goes wrong where two answer alike.
 */
import {
  formatPrefix,
  maskOf,
  overlaps,
  parseAddress,
  parsePrefix,
  prefixAround,
  type Prefix,
} from '../../addressing'
import type { Device } from '../../plan'
import type { SiteModel } from '../../topology'
import { listWords } from '../../words'
import { remembered } from '../../remember'
import { Day } from '../day'
import { laptopAddressFor } from './laptop'

export interface StagedDevice {
  readonly deviceId: string
  readonly name: string
  /** Where it answers when it is new. */
  readonly address: string
  readonly page: string
  /** Factory account; null where it has none. */
  readonly account: string | null
  readonly firstThing: string
}
export interface StagingRow {
  readonly subnet: string
  /** In the order in which they are worked on. */
  readonly devices: readonly StagedDevice[]
  /** Of the laptop, with its mask; null where the subnet has room for nobody else. */
  readonly laptop: {
    readonly address: string
    readonly length: number
    readonly mask: string
  } | null
  /** For a Linux laptop; IF is its interface. */
  readonly commands: readonly string[]
  /** For any other. */
  readonly inWords: readonly string[]
  readonly clashes: readonly string[]
}

/** Of every laptop, whatever it was set to. */
export const backToAutomatic = {
  commands: ['ip address flush dev IF', 'ip route flush dev IF', 'ip address show dev IF'],
  inWords: [
    'Address: by itself (DHCP). Name servers: by themselves.',
    'Take the cable out and put it in again, and look at the address that it has now: none of those above.',
  ],
} as const

/** Asked for each device. */
const gearOf = remembered<SiteModel, readonly Device[]>((model) => new Day(model).gear)

const around = (withLength: string): Prefix | undefined => {
  const [own = '', length] = withLength.split('/')
  const address = parseAddress(own)
  return address?.family === 4 ? prefixAround(address, Number(length)) : undefined
}

/** A row for each factory subnet, in the order in which the day meets them. */
export function stagingOf(model: SiteModel): StagingRow[] {
  const bySubnet = new Map<string, { subnet: Prefix; devices: Device[] }>()
  for (const d of gearOf(model)) {
    const { address } = model.profileOf(d.id).factory
    const subnet = address ? around(address) : undefined
    if (!subnet) continue
    const key = formatPrefix(subnet)
    const row = bySubnet.get(key) ?? { subnet, devices: [] }
    row.devices.push(d)
    bySubnet.set(key, row)
  }
  return [...bySubnet].map(([subnet, row]) => rowOf(model, subnet, row.subnet, row.devices))
}

const factoryOf = (model: SiteModel, d: Device): string =>
  model.profileOf(d.id).factory.address!.split('/')[0]!

/** Of the laptop beside a device, away from all others of its subnet that could have power too. */
export function laptopBeside(model: SiteModel, device: Device): string | null {
  const { address } = model.profileOf(device.id).factory
  const subnet = address ? around(address) : undefined
  if (!address || !subnet) return null
  const others = gearOf(model)
    .filter((d) => {
      const other = model.profileOf(d.id).factory.address
      const its = other ? around(other) : undefined
      return its !== undefined && overlaps(its, subnet)
    })
    .map((d) => factoryOf(model, d))
  return laptopAddressFor(address, others)
}

function rowOf(
  model: SiteModel,
  subnet: string,
  prefix: Prefix,
  devices: readonly Device[],
): StagingRow {
  const withLength = laptopBeside(model, devices[0]!)
  const address = withLength?.split('/')[0]
  const laptop = address ? { address, length: prefix.length, mask: maskOf(prefix.length) } : null
  return {
    subnet,
    devices: devices.map((d) => {
      const { factory } = model.profileOf(d.id)
      const own = factoryOf(model, d)
      return {
        deviceId: d.id,
        name: d.name,
        address: own,
        page: `https://${own}`,
        account: factory.account,
        firstThing: factory.account
          ? 'a password of its own instead of the one that everybody knows'
          : 'an account: it has none, so whoever comes first owns it',
      }
    }),
    laptop,
    commands: laptop
      ? [
          'ip link set dev IF up',
          'ip address flush dev IF',
          `ip address add ${laptop.address}/${laptop.length} dev IF`,
        ]
      : [],
    inWords: laptop
      ? [
          `Address ${laptop.address}, mask ${laptop.mask}, gateway and name servers empty.`,
          'Its radio off: else pages are asked for by the other way.',
        ]
      : [`${subnet} has room for nobody beside it: reach it by another way, or reset it.`],
    clashes: clashes(model, prefix, devices),
  }
}

function clashes(model: SiteModel, prefix: Prefix, devices: readonly Device[]): string[] {
  const out: string[] = []
  const byAddress = new Map<string, Device[]>()
  for (const d of devices) {
    const own = factoryOf(model, d)
    byAddress.set(own, [...(byAddress.get(own) ?? []), d])
  }
  for (const [address, alike] of byAddress)
    if (alike.length > 1)
      out.push(
        `${listWords(alike.map((d) => d.name))} all answer at ${address}: only one of them has ` +
          'power, or a cable, until it has an address of its own.',
      )
  const serving = devices.filter((d) => model.profileOf(d.id).factory.dhcp === 'server')
  if (serving.length > 0)
    out.push(
      `${listWords(serving.map((d) => d.name))} ${serving.length === 1 ? 'hands' : 'hand'} out ` +
        'leases when new: the laptop may get one by itself, and so would everybody on the site. ' +
        'Nothing else in its sockets.',
    )
  const meets = (text: string | null | undefined): boolean => {
    const other = text ? parsePrefix(text) : undefined
    return other !== undefined && overlaps(other, prefix)
  }
  for (const s of model.segments)
    if (meets(s.subnet))
      out.push(
        `${s.name} of this site has the same numbers (${s.subnet}): a new device in it takes an ` +
          'address that somebody has. Set it on the bench, never in place.',
      )
  for (const u of model.lines)
    if (meets(u.handOff.providerLan))
      out.push(
        `The provider's own router on ${u.name} has the same numbers (${u.handOff.providerLan}): ` +
          'whoever is plugged into both reaches one of them.',
      )
  return out
}
