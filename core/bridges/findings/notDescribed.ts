/** Links through the air of which nobody said what lies between their ends. */
import { editCall, idFor, idsOf, plainEnd, type Link } from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'
import { listWords } from '../../words'
import type { SiteModel } from '../../topology'
import { isReckoned, reckonedBridges } from '../reckoned'
import { CARRIES } from './reads'

/** The edit that makes a bridge of a link, set as its profiles usually are. */
export function describeLink(model: SiteModel, link: Link): Fix {
  const names = [link.a, link.b].map((p) => model.device(model.port(p).deviceId).name)
  const unit = model.profileOf(model.port(link.a).deviceId).bridge
  const end = (role: 'main' | 'far') => ({
    ...plainEnd,
    role,
    channel: unit?.channels[0]?.number ?? null,
    widthMhz: unit?.widthsMhz[0] ?? 20,
    country: model.plan.site.country,
  })
  return {
    label: 'Begin its sheet',
    edits: [
      editCall('addBridge', {
        id: idFor('bridge', idsOf(model.plan)),
        name: `${names[0]!} to ${names[1]!}`.slice(0, 80),
        linkId: link.id,
        a: end('main'),
        b: end('far'),
      }),
    ],
  }
}

export default defineRule({
  id: 'bridges/not-described',
  severity: 'note',
  catches: ['C-47'],
  title: 'A bridge of which too little is known',
  sheet: 'bridges',
  reads: CARRIES,
  *check(model) {
    const described = new Set(Object.values(model.plan.bridges).map((b) => b.linkId))
    for (const link of Object.values(model.plan.links)) {
      if (link.medium !== 'radio' || described.has(link.id)) continue
      yield {
        key: `link:${link.id}`,
        catches: [],
        subjects: [link.id],
        text:
          `${model.portName(link.a)} to ${model.portName(link.b)} goes through the air; nothing ` +
          'is said of the way.',
        why: 'Whether it holds, and with how much power it may send, cannot be said.',
        fixes: [describeLink(model, link)],
      }
    }
    for (const [id, r] of reckonedBridges(model)) {
      const { name } = model.plan.bridges[id]!
      if (!isReckoned(r))
        yield {
          key: `facts:${id}`,
          catches: [],
          subjects: [id],
          text: `${name}: say ${listWords(r.missing)}.`,
          why: 'Without it nothing of the bridge is reckoned.',
          fixes: [],
        }
      else {
        if (r.budget.toB.steps.length === 0 || r.budget.toA.steps.length === 0)
          yield {
            key: `steps:${id}`,
            catches: [],
            subjects: [id],
            text: `${name}: no level is known that its units need in ${r.bridge.a.widthMhz} MHz.`,
            why: 'Levels are reckoned, speed and margin are not. Copy the table of sensitivities from the data sheet.',
            fixes: [],
          }
        if (r.bridge.ground.length === 0 && r.bridge.obstacles.length === 0)
          yield {
            key: `empty:${id}`,
            severity: 'caution',
            title: 'Reckoned with nothing in the way',
            subjects: [id],
            text:
              `${name} is reckoned over ${(r.budget.facts.way.metres / 1000).toFixed(2)} km with ` +
              'nothing in the way.',
            why: 'Ranges hold only so. Look along the path, read the ground from a tile, and enter what stands there.',
            fixes: [],
          }
      }
    }
  },
})
