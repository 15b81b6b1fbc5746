/** An address for the laptop on the subnet of what it is to speak to. */
import { formatAddress, parseAddress, prefixAround, usableRange } from '../../addressing'

/** Where it is put when nothing is there: past what devices commonly have, before what they hand out. */
const WANTED = 10n

/**
 * In the same subnet, a host's address, and nobody's.
 * @param factory address and length of the device, as `192.168.1.1/24`
 * @param taken addresses of others that may have power at the same time
 * @returns with the length; null where the subnet has no room for a second host
 */
export function laptopAddressFor(factory: string, taken: readonly string[] = []): string | null {
  const [own, length] = factory.split('/') as [string, string]
  const device = parseAddress(own)
  if (device?.family !== 4) return null
  const subnet = prefixAround(device, Number(length))
  const { first, last } = usableRange(subnet)
  const used = new Set([own, ...taken].flatMap((t) => parseAddress(t)?.value ?? []))
  const wanted = subnet.network + WANTED
  const from = wanted >= first && wanted <= last ? wanted : first
  // From there upwards, then from the beginning; as many tries as others could be in the way.
  for (let n = 0n; n <= BigInt(used.size); n++) {
    const value = from + n <= last ? from + n : first + (from + n - last - 1n)
    if (value < first || value > last) continue
    if (!used.has(value)) return `${formatAddress({ family: 4, value })}/${length}`
  }
  return null
}
