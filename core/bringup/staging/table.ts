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
import { gearOf } from '../gear'
import { setUpOf } from '../schools/school'
import { laptopAddressFor } from './laptop'

/** One page, and all that answer with it: those of one kind mostly do. */
export interface StagedPage {
  /** Where they answer when they are new. */
  readonly address: string
  readonly page: string
  /** Factory account; null where there is none. */
  readonly account: string | null
  /** In the order in which they are worked on. */
  readonly devices: readonly { readonly deviceId: string; readonly name: string }[]
  readonly firstThing: string
}
export interface StagingRow {
  readonly subnet: string
  readonly pages: readonly StagedPage[]
  /** Of the laptop, with its mask; null where the subnet has room for nobody else. */
  readonly laptop: {
    readonly address: string
    readonly length: number
    readonly mask: string
  } | null
  /**
   * Of further laptops, one for each further person as far as there is room: two on one address
   * answer in turns, and pages break off.
   */
  readonly others: readonly string[]
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

const around = (withLength: string): Prefix | undefined => {
  const [own = '', length] = withLength.split('/')
  const address = parseAddress(own)
  return address?.family === 4 ? prefixAround(address, Number(length)) : undefined
}

/**
 * A row for each factory subnet, in the order in which the day meets them.
 * @param people who each have a laptop
 */
export function stagingOf(model: SiteModel, people = 1): StagingRow[] {
  const bySubnet = new Map<string, { subnet: Prefix; devices: Device[] }>()
  for (const d of gearOf(model)) {
    const { address } = model.profileOf(d.id).factory
    const { school, by } = setUpOf(model, d)
    const subnet = address ? around(address) : undefined
    // What fetches everything by itself, or answers over a console, needs no address beside it.
    if (!subnet || school === 'prepared' || by === 'console') continue
    const key = formatPrefix(subnet)
    const row = bySubnet.get(key) ?? { subnet, devices: [] }
    row.devices.push(d)
    bySubnet.set(key, row)
  }
  return [...bySubnet].map(([subnet, row]) => rowOf(model, subnet, row.subnet, row.devices, people))
}

const factoryOf = (model: SiteModel, d: Device): string =>
  model.profileOf(d.id).factory.address!.split('/')[0]!

/** Of the laptop beside a device, away from all others of its subnet that could have power too. */
export const laptopBeside = (model: SiteModel, device: Device): string | null =>
  laptopsBeside(model, device, 1)[0] ?? null

/** Of several, each away from the others too; fewer where there is no room for all. */
function laptopsBeside(model: SiteModel, device: Device, count: number): string[] {
  const { address } = model.profileOf(device.id).factory
  const subnet = address ? around(address) : undefined
  if (!address || !subnet) return []
  const others = gearOf(model)
    .filter((d) => {
      const other = model.profileOf(d.id).factory.address
      const its = other ? around(other) : undefined
      return its !== undefined && overlaps(its, subnet)
    })
    .map((d) => factoryOf(model, d))
  const laptops: string[] = []
  while (laptops.length < count) {
    const next = laptopAddressFor(address, [...others, ...laptops.map((l) => l.split('/')[0]!)])
    if (next === null) break
    laptops.push(next)
  }
  return laptops
}

function rowOf(
  model: SiteModel,
  subnet: string,
  prefix: Prefix,
  devices: readonly Device[],
  people: number,
): StagingRow {
  const [address, ...others] = laptopsBeside(model, devices[0]!, people).map(
    (l) => l.split('/')[0]!,
  )
  const laptop = address ? { address, length: prefix.length, mask: maskOf(prefix.length) } : null
  return {
    subnet,
    pages: pagesOf(model, devices),
    laptop,
    others,
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
    clashes: [
      ...clashes(model, prefix, devices),
      ...(laptop && others.length + 1 < people
        ? [
            `There is room for ${others.length + 1} of ${people} laptops: one after the other, and ` +
              'back to an automatic address in between.',
          ]
        : []),
    ],
  }
}

function pagesOf(model: SiteModel, devices: readonly Device[]): StagedPage[] {
  const pages = new Map<string, StagedPage & { devices: { deviceId: string; name: string }[] }>()
  for (const d of devices) {
    const { account } = model.profileOf(d.id).factory
    const address = factoryOf(model, d)
    const key = `${address} ${account ?? ''}`
    const page = pages.get(key) ?? {
      ...{ address, page: `https://${address}`, account, devices: [] },
      firstThing: account
        ? 'First a password of its own, instead of the one that everybody knows.'
        : 'First an account: it has none, so whoever comes first owns it.',
    }
    page.devices.push({ deviceId: d.id, name: d.name })
    pages.set(key, page)
  }
  return [...pages.values()]
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
