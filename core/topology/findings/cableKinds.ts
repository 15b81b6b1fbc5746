/**
 * C-19, C-20: copper that is too long, a cable that does not fit its sockets, optics of two speeds.
 */
import { editCall, type Link } from '../../plan'
import type { SiteModel } from '../../topology'
import { defineRule, type FindingBody, type Fix } from '../../findings/rule'

/** A channel of twisted pairs, patch leads and all (ISO/IEC 11801-1, TIA-568), m. */
const COPPER_M = 100
/**
 * Two optical sockets are joined in copper by a lead with its plugs on it, which ends at some
 * metres (common practice).
 */
const DIRECT_LEAD_M = 10

/** Free optical sockets at both ends, of one speed. */
function fibreFix(model: SiteModel, l: Link): Fix[] {
  const free = (portId: string): { id: string; speedMbps: number }[] =>
    model
      .portsOf(model.port(portId).deviceId)
      .filter((p) => {
        const q = model.profilePortOf(p.id)
        return (
          q.medium === 'optical' &&
          q.role === model.profilePortOf(portId).role &&
          q.licenceId === null &&
          !model.linkAt(p.id) &&
          !Object.values(model.plan.uplinks).some((u) => u.portId === p.id)
        )
      })
      .map((p) => ({ id: p.id, speedMbps: model.profilePortOf(p.id).speedMbps }))
  const [a, b] = [free(l.a), free(l.b)]
  const pair = a.flatMap((x) =>
    b.filter((y) => y.speedMbps === x.speedMbps).map((y) => [x.id, y.id] as const),
  )[0]
  if (!pair) return []
  return [
    {
      label: `Run fibre from ${model.portName(pair[0])} to ${model.portName(pair[1])} instead`,
      edits: [
        editCall('movePlug', { linkId: l.id, fromPortId: l.a, toPortId: pair[0] }),
        editCall('movePlug', { linkId: l.id, fromPortId: l.b, toPortId: pair[1] }),
        editCall('changeLink', { id: l.id, changes: { medium: 'fibre' } }),
      ],
    },
  ]
}

function* ofLink(model: SiteModel, l: Link): Generator<FindingBody> {
  const [a, b] = [model.profilePortOf(l.a), model.profilePortOf(l.b)]
  const ends = `${model.portName(l.a)} and ${model.portName(l.b)}`
  const change = (medium: Link['medium'], label: string): Fix => ({
    label,
    edits: [editCall('changeLink', { id: l.id, changes: { medium } })],
  })
  const copperSockets = [l.a, l.b].filter((p) => model.profilePortOf(p).medium === 'copper')
  const bothOptical = copperSockets.length === 0
  const metres = (m: number): string => `${Number(m.toFixed(1))} m`
  if (l.medium === 'copper' && bothOptical && l.lengthM > DIRECT_LEAD_M)
    yield {
      subjects: [l.id, l.a, l.b],
      text: `The cable between ${ends} is planned in copper over ${metres(l.lengthM)}, between two optical sockets.`,
      why: 'Leads with optical plugs at both ends are made of copper up to a few metres only.',
      numbers: [{ label: 'length', value: metres(l.lengthM) }],
      fixes: [change('fibre', 'Make it fibre')],
    }
  else if (l.medium === 'copper' && l.lengthM > COPPER_M)
    yield {
      subjects: [l.id, l.a, l.b],
      text:
        `The copper between ${ends} is ${metres(l.lengthM)} long, ` +
        `${metres(l.lengthM - COPPER_M)} more than it carries.`,
      why: 'It may come up on a good day, at a lower speed, and fail on a warm one; power over it is weaker still.',
      numbers: [
        {
          label: 'most',
          value: metres(COPPER_M),
          how: 'a channel of twisted pairs with its patch leads (ISO/IEC 11801-1)',
        },
        { label: 'planned', value: metres(l.lengthM) },
      ],
      fixes: fibreFix(model, l),
    }
  if (l.medium === 'fibre' && copperSockets.length > 0)
    yield {
      subjects: [l.id, ...copperSockets],
      text:
        `Fibre is planned between ${ends}, and ` +
        `${copperSockets.map((p) => model.portName(p)).join(', ')} ` +
        `${copperSockets.length === 1 ? 'is a copper socket' : 'are copper sockets'}.`,
      why: 'It does not fit; on the day there is neither plug nor converter.',
      fixes: [
        ...(copperSockets.length === 2 && l.lengthM <= COPPER_M
          ? [change('copper', 'Make it copper')]
          : []),
        ...fibreFix(model, l),
      ],
    }
  if (l.medium === 'fibre' && bothOptical && a.speedMbps !== b.speedMbps)
    yield {
      subjects: [l.id, l.a, l.b],
      text: `The optical sockets ${ends} run at ${a.speedMbps} and ${b.speedMbps} Mbit/s.`,
      why:
        'Optics do not agree on a speed as copper does: the link stays dark unless the faster ' +
        'socket is set to the slower speed and both plugs are of it.',
      numbers: [{ label: 'speeds', value: `${a.speedMbps} and ${b.speedMbps} Mbit/s` }],
      fixes: fibreFix(model, l),
    }
}

export default defineRule({
  id: 'wiring/cable-kinds',
  severity: 'caution',
  catches: ['C-19', 'C-20'],
  title: 'A cable that does not do what is planned',
  sheet: 'wiring',
  reads: ['devices', 'profiles', 'ports', 'links', 'uplinks'],
  *check(model) {
    for (const l of Object.values(model.plan.links)) yield* ofLink(model, l)
  },
})
