/**
 * C-90, C-91: a socket for the laptop of whoever sets the site up, and no more of them than that.
 */
import { editCall } from '../../plan'
import { mayAdminister } from '../../policy'
import type { SiteModel } from '../../topology'
import { adoptableOf, freeSockets } from '../freeSockets'
import { defineRule, type FindingBody } from '../../findings/rule'

const exposed: ReadonlySet<string> = new Set(['outdoors', 'mast', 'roof', 'kiosk'])
const isExposed = (model: SiteModel, portId: string): boolean =>
  exposed.has(
    model.plan.locations[model.device(model.port(portId).deviceId).locationId ?? '']?.kind ?? '',
  )

export default defineRule({
  id: 'wiring/way-into-management',
  severity: 'caution',
  catches: ['C-90', 'C-91'],
  title: 'The way into management',
  sheet: 'wiring',
  reads: [
    'devices',
    'profiles',
    'ports',
    'links',
    'segments',
    'locations',
    'uplinks',
    'wirelessNetworks',
  ],
  *check(model): Generator<FindingBody> {
    const management = model.segments.find(mayAdminister)
    const adoptable = adoptableOf(model)
    if (!management || adoptable.length === 0) return
    const free = freeSockets(model)
    const live = free.filter((p) => p.untaggedSegmentId === management.id)
    const onAir = Object.values(model.plan.wirelessNetworks).some(
      (w) => w.segmentId === management.id,
    )
    if (live.length === 0 && !onAir) {
      // Where nobody passes by: at the gateway first, then at a switch indoors.
      const empty = free.filter(
        (p) => p.untaggedSegmentId === null && p.taggedSegmentIds.length === 0,
      )
      const indoors = empty.filter((p) => !isExposed(model, p.id))
      const among = indoors.length > 0 ? indoors : empty
      const best = among.find((p) => p.deviceId === model.gateway?.id) ?? among[0]
      yield {
        subjects: [management.id, ...(best ? [best.id] : [])],
        text:
          `No free socket and no network on the air leads into ${management.name}: whoever ` +
          'sets the site up has no way to its devices.',
        why:
          'On the day a laptop has to reach the pages of devices and the controller; without a ' +
          'socket set aside somebody unplugs something for it.',
        fixes:
          best && !isExposed(model, best.id)
            ? [
                {
                  label: `Set ${model.portName(best.id)} aside for the laptop`,
                  edits: [
                    editCall('setUntagged', { segmentId: management.id, portIds: [best.id] }),
                  ],
                },
              ]
            : [],
      }
    }
    const kept = live.find((p) => !isExposed(model, p.id))
    const spare = live.filter((p) => p !== kept)
    if (spare.length > 0)
      yield {
        subjects: [...spare.map((p) => p.id), management.id],
        text:
          (spare.length === 1
            ? `${model.portName(spare[0]!.id)} is free and live `
            : `${spare.length} free sockets are live `) +
          `in ${management.name}${
            spare.length > 1
              ? `: ${spare
                  .slice(0, 6)
                  .map((p) => model.portName(p.id))
                  .join(', ')}${spare.length > 6 ? ` and ${spare.length - 6} more` : ''}`
              : ''
          }.`,
        why: kept
          ? `One is enough for the laptop (${model.portName(kept.id)}); whoever finds another ` +
            'is in the segment from which everything is set.'
          : 'It is where anybody passes by: whoever finds it is in the segment from which everything is set.',
        // Parked, the only one there is would be missed next.
        fixes:
          kept || onAir || spare.length < free.length
            ? [
                {
                  label: spare.length === 1 ? 'Park it' : 'Park them',
                  edits: [
                    editCall('setUntagged', { segmentId: null, portIds: spare.map((p) => p.id) }),
                  ],
                },
              ]
            : [],
      }
  },
})
