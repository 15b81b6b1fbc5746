/** The key of a network was typed wrong at one access point: it lets nobody in there. */
import { z } from 'zod'
import { defineFault } from './fault'

export const wrongKey = defineFault({
  kind: 'wrong-key',
  schema: z.strictObject({
    kind: z.literal('wrong-key'),
    deviceId: z.string().max(64),
    network: z.string().max(64),
  }),
  of: (f) => `${f.deviceId}:${f.network}`,
  offer(plan) {
    // Where others send it too, so that the one that does not let in is told from the rest.
    const network = Object.values(plan.wirelessNetworks).find(
      (w) => w.security !== 'open' && w.accessPointIds.length > 1,
    )
    const point = network && plan.devices[network.accessPointIds[0]!]
    return (
      point && {
        fault: { kind: 'wrong-key', deviceId: point.id, network: network.name },
        label: `Type the key of '${network.name}' wrong at ${point.name}`,
      }
    )
  },
  put(world, { deviceId, network }, on) {
    const point = world.accessPoint(deviceId)
    if (!point) return { ok: false, text: 'only an access point has a key to mistype' }
    if (on) point.wrongKeys.add(network)
    else point.wrongKeys.delete(network)
    return { ok: true, text: on ? 'it lets nobody in' : 'the key is right again' }
  },
})
