/** An access point sends on the channel of its neighbour instead of its own. */
import { z } from 'zod'
import { defineFault } from './fault'
import { pointsOnPlans, radioSet } from './onThePlan'

export const otherChannel = defineFault({
  kind: 'other-channel',
  schema: z.strictObject({
    kind: z.literal('other-channel'),
    deviceId: z.string().max(64),
    band: z.enum(['2.4', '5', '6']),
    channel: z.int().min(1).max(233),
  }),
  of: (f) => `${f.deviceId}:${f.band}`,
  offer(plan) {
    const points = pointsOnPlans(plan)
    for (const a of points)
      for (const b of points) {
        if (a.id === b.id || a.place!.floorId !== b.place!.floorId) continue
        const [mine, theirs] = [radioSet(a, '5'), radioSet(b, '5')]
        if (!mine || !theirs || mine.channel === theirs.channel) continue
        return {
          fault: {
            kind: 'other-channel' as const,
            deviceId: a.id,
            band: '5' as const,
            channel: theirs.channel,
          },
          label: `${a.name} sends on the channel of ${b.name}`,
        }
      }
    return undefined
  },
  put(world, { deviceId, band, channel }, on) {
    const point = world.accessPoint(deviceId)
    if (!point) return { ok: false, text: 'only an access point sends on a channel' }
    if (on) point.otherChannels.set(band, channel)
    else point.otherChannels.delete(band)
    return { ok: true, text: on ? `it sends on ${channel}` : 'it sends as it was told' }
  },
})
