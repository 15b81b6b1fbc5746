/** C-67: devices whose clock nobody sets. */
import { defineRule } from '../../findings/rule'
import { collections, editCall, type Device } from '../../plan'
import { listWords } from '../../words'
import { timeServersOf } from '../clock/clockServers'

const MOST_NAMED = 3

export default defineRule({
  id: 'adoption/no-time',
  severity: 'caution',
  catches: ['C-67'],
  title: 'Nobody tells these devices the time',
  sheet: 'addresses',
  reads: ['site', 'controller', ...collections],
  *check(model) {
    const bySegment = new Map<string, { devices: Device[]; why: string }>()
    for (const d of model.devices) {
      const { segmentId } = d.addressing
      if (!segmentId || !model.profileOf(d.id).adoptable) continue
      const servers = timeServersOf(model, d)
      const [first] = servers
      if (!servers.every((s) => s.isSet)) continue
      const at = bySegment.get(segmentId) ?? { devices: [], why: first!.whyNot! }
      at.devices.push(d)
      bySegment.set(segmentId, at)
    }
    for (const [segmentId, { devices, why }] of bySegment) {
      const segment = model.segment(segmentId)
      const named = devices.slice(0, MOST_NAMED).map((d) => d.name)
      const more = devices.length - named.length
      const asks = segment.options.timeServers[0] ?? 'a server on the internet'
      yield {
        subjects: [segmentId, ...devices.slice(0, MOST_NAMED).map((d) => d.id)],
        text:
          `${listWords(more > 0 ? [...named, `${more} more`] : named)} in ${segment.name} ` +
          `${devices.length === 1 ? 'asks' : 'ask'} ${asks} for the time and ` +
          `${devices.length === 1 ? 'gets' : 'get'} no answer: ${why}.`,
        why:
          'Their clocks stand as they were in the box: certificates look expired, logs cannot be put ' +
          'in order, and what goes by the hour goes at a wrong one.',
        fixes: segment.gateway
          ? [
              {
                label: `Have ${segment.name} ask its gateway ${segment.gateway}`,
                edits: [
                  editCall('changeSegment', {
                    id: segmentId,
                    changes: { options: { ...segment.options, timeServers: [segment.gateway] } },
                  }),
                ],
              },
            ]
          : [],
      }
    }
  },
})
