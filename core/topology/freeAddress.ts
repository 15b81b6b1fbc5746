/** Addresses of a segment's fixed block that can be given to a device. */
import { address, formatAddress, prefix, usableRange } from '../addressing'
import {
  editCall,
  hasKnownAddress,
  type Device,
  type EditCall,
  type Segment,
  type SitePlan,
} from '../plan'

/** More than this are not given by hand. */
const MOST_LOOKED_AT = 70_000

/** The lowest address of a fixed block that no other device has, no pool hands out. */
export function firstFree(
  devices: Record<string, { id: string; addressing: { address: string | null } }>,
  exceptId: string,
  {
    subnet,
    gateway,
    fixedBlock,
    pools,
  }: Pick<Segment, 'subnet' | 'gateway' | 'fixedBlock' | 'pools'>,
): string | undefined {
  if (!fixedBlock || !subnet) return undefined
  const used = new Set(
    Object.values(devices)
      .filter((d) => d.id !== exceptId)
      .map((d) => d.addressing.address),
  )
  used.add(gateway)
  const usable = usableRange(prefix(subnet))
  const handedOut = pools.map((p) => [address(p.first).value, address(p.last).value] as const)
  const [from, to] = [address(fixedBlock.first).value, address(fixedBlock.last).value]
  let looked = 0
  for (let v = from > usable.first ? from : usable.first; v <= to && v <= usable.last; v++) {
    const pool = handedOut.find(([first, last]) => v >= first && v <= last)
    if (pool) {
      v = pool[1]
      continue
    }
    const text = formatAddress({ family: 4, value: v })
    if (!used.has(text)) return text
    if (++looked > MOST_LOOKED_AT) return undefined
  }
  return undefined
}

/**
 * What makes a device's address known: one of the fixed block, reserved where its hardware address
 * is known, else typed. Null where there is nothing to be given.
 */
export function giveKnownAddress(plan: SitePlan, d: Device): EditCall | null {
  const segment = d.addressing.segmentId ? plan.segments[d.addressing.segmentId] : undefined
  if (!segment?.subnet || !segment.gateway || hasKnownAddress(d)) return null
  const isReserved = d.hardwareAddress !== null && segment.dhcp.mode === 'server'
  const free = d.addressing.address ?? firstFree(plan.devices, d.id, segment)
  return free === undefined
    ? null
    : editCall('changeDevice', {
        id: d.id,
        changes: {
          addressing: {
            mode: isReserved ? 'reserved' : 'fixed',
            segmentId: segment.id,
            address: free,
            gateway: isReserved ? null : segment.gateway,
          },
        },
      })
}
