/** Who of those on the air takes so much of the line that others feel it. */
import type { Device } from '../../plan'
import { remembered } from '../../remember'
import type { SiteModel } from '../../topology'

export interface ClientFacts {
  readonly hardwareAddress: string
  /** What somebody called it; null where nobody did. */
  readonly name: string | null
  readonly isShut: boolean
  /** In the last hour. */
  readonly hour: {
    readonly downOctets: number
    readonly upOctets: number
    /** For how much of it this was counted, s. */
    readonly seconds: number
  }
}
export interface Draining {
  readonly client: ClientFacts
  readonly way: 'down' | 'up'
  readonly octets: number
  /** In the mean of the hour, Mbit/s, and what the line gives. */
  readonly meanMbps: number
  readonly lineMbps: number
}

/** Something large that is fetched once is over by then (common practice), s. */
const LONG_SECONDS = 900
/** Of the line over so long; the rest then waits behind it (common practice). */
const DRAINING_SHARE = 0.3

const byHardwareAddress = remembered<SiteModel, ReadonlyMap<string, Device>>(
  (model) =>
    new Map(model.devices.flatMap((d) => (d.hardwareAddress ? [[d.hardwareAddress, d]] : []))),
)
/** The host of the plan that a client is; undefined where nobody planned it. */
export const plannedClient = (model: SiteModel, hardwareAddress: string): Device | undefined =>
  byHardwareAddress(model).get(hardwareAddress)

export const clientName = (
  model: SiteModel,
  { hardwareAddress, name }: Pick<ClientFacts, 'hardwareAddress' | 'name'>,
): string => name ?? plannedClient(model, hardwareAddress)?.name ?? hardwareAddress

/**
 * @param clockSpeed how much faster than the wall clock the devices live
 */
export function drainingClients(
  model: SiteModel,
  clients: readonly ClientFacts[],
  clockSpeed = 1,
): Draining[] {
  const handOff = model.wayOut?.handOff
  const of = (
    client: ClientFacts,
    way: Draining['way'],
    octets: number,
    lineMbps: number | null | undefined,
  ): Draining[] => {
    const seconds = client.hour.seconds * clockSpeed
    const meanMbps = (octets * 8) / Math.max(1, seconds) / 1e6
    return lineMbps && seconds >= LONG_SECONDS && meanMbps >= DRAINING_SHARE * lineMbps
      ? [{ client, way, octets, meanMbps, lineMbps }]
      : []
  }
  return clients
    .filter((c) => !c.isShut)
    .flatMap((c) => [
      ...of(c, 'down', c.hour.downOctets, handOff?.downMbps),
      ...of(c, 'up', c.hour.upOctets, handOff?.upMbps),
    ])
    .sort((a, b) => b.meanMbps / b.lineMbps - a.meanMbps / a.lineMbps)
}

/** 1,000 octets are a kilobyte (IEC 80000-13). */
export function octetsText(octets: number): string {
  const steps = ['B', 'kB', 'MB', 'GB', 'TB']
  const n = octets < 1000 ? 0 : Math.min(4, Math.floor(Math.log10(octets) / 3))
  const value = octets / 1000 ** n
  return `${n === 0 ? value : Number(value.toPrecision(3))} ${steps[n]}`
}
