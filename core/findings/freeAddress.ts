/** Addresses of a segment's fixed block that a fix can give. */
import { address, formatAddress } from '../addressing'
import { editCall, hasKnownAddress, type Device, type EditCall, type SitePlan } from '../plan'

/** The lowest address of a fixed block that no other device has. */
export function firstFree(
  devices: Record<string, { id: string; addressing: { address: string | null } }>,
  exceptId: string,
  block: { first: string; last: string } | null,
): string | undefined {
  if (!block) return undefined
  const used = new Set(
    Object.values(devices)
      .filter((d) => d.id !== exceptId)
      .map((d) => d.addressing.address),
  )
  for (let v = address(block.first).value; v <= address(block.last).value; v++) {
    const text = formatAddress({ family: 4, value: v })
    if (!used.has(text)) return text
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
  const free = d.addressing.address ?? firstFree(plan.devices, d.id, segment.fixedBlock)
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
