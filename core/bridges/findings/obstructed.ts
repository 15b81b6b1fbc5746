/** C-41: what stands in the first Fresnel zone, now or when it has grown. */
import { editCall } from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'
import { grownInOn, raiseBy, tightest, type PathPoint } from '../clearance/points'
import { CLEAR_SHARE, USUAL_K } from '../clearance/shape'
import type { Reckoned } from '../reckoned'
import { knownBridges } from '../reckoned'
import { CARRIES } from './reads'

/** Trees that are in the way sooner than that are worth a word, years. */
const SOON_YEARS = 10

const up = (m: number): number => Math.ceil(m * 10) / 10

/** @param share of the first zone that is to be free */
function heightFixes(r: Reckoned, points: readonly PathPoint[], share: number): Fix[] {
  const { facts } = r.budget
  const by = raiseBy(points, facts.way.metres, share)
  const raise = (end: 'a' | 'b', m: number) => ({
    ...facts[end].set,
    heightM: up(facts[end].heightM + m),
  })
  const fix = (label: string, changes: object): Fix => ({
    label,
    edits: [editCall('changeBridge', { id: r.bridge.id, changes })],
  })
  const fits = (end: 'a' | 'b', m: number): boolean => facts[end].heightM + m <= 1000
  return [
    ...(fits('a', by.bothM) && fits('b', by.bothM)
      ? [
          fix(`Hang both antennas ${up(by.bothM)} m higher`, {
            a: raise('a', by.bothM),
            b: raise('b', by.bothM),
          }),
        ]
      : []),
    ...(['a', 'b'] as const).flatMap((end) => {
      const m = end === 'a' ? by.onlyAM : by.onlyBM
      return fits(end, m)
        ? [fix(`Hang ${facts[end].device.name} ${up(m)} m higher`, { [end]: raise(end, m) })]
        : []
    }),
  ]
}
const what = (r: Reckoned, p: PathPoint): string =>
  p.obstacle === null ? 'the ground' : r.bridge.obstacles[p.obstacle]!.name

export default defineRule({
  id: 'bridges/obstructed',
  severity: 'caution',
  catches: ['C-41'],
  title: 'Something stands in the Fresnel zone',
  sheet: 'bridges',
  reads: CARRIES,
  *check(model) {
    for (const r of knownBridges(model)) {
      const { losses, facts } = r.budget
      const at = (p: PathPoint): string => `${Math.round(p.atM)} m from ${facts.a.device.name}`
      const worst = tightest(losses.points)
      const numbers = (p: PathPoint, k: number) => [
        {
          label: 'free',
          value: `${Math.round(p.share * 100)} % of the zone`,
          how: `${p.clearM.toFixed(1)} m of a radius of ${p.fresnelM.toFixed(1)} m; 60 % is the rule (ITU-R P.530)`,
        },
        {
          label: 'beam',
          value: `${p.beamM.toFixed(1)} m`,
          how: 'above the sea, straight between the antennas',
        },
        {
          label: 'Earth',
          value: `${p.bulgeM.toFixed(2)} m`,
          how: `d1 d2 / (12.74 k) with k = ${k.toFixed(2)}`,
        },
      ]
      if (worst && worst.share < CLEAR_SHARE) {
        yield {
          key: `now:${r.bridge.id}`,
          subjects: [r.bridge.id],
          text:
            worst.clearM < 0
              ? `${r.bridge.name}: the beam runs ${(-worst.clearM).toFixed(1)} m under the top of ` +
                `${what(r, worst)}, ${at(worst)}.`
              : `${r.bridge.name}: ${what(r, worst)}, ${at(worst)}: ` +
                `${Math.round(worst.share * 100)} % of the first Fresnel zone is free.`,
          why:
            `It takes ${losses.edges.totalDb.toFixed(1)} dB, and more with every metre that it ` +
            'rises. Masts of boats and cranes count as high as they ever get.',
          numbers: numbers(worst, USUAL_K),
          fixes: heightFixes(r, losses.points, CLEAR_SHARE),
        }
        continue
      }
      const bent = tightest(losses.unfavourable.points)
      // Over water and in layers the air bends waves upwards at times: then the way is to be free at all.
      if (bent && bent.clearM < 0)
        yield {
          key: `bent:${r.bridge.id}`,
          subjects: [r.bridge.id],
          title: 'In unfavourable air the beam meets the ground',
          text:
            `${r.bridge.name}: with k = ${losses.unfavourable.k.toFixed(2)} the beam runs ` +
            `${(-bent.clearM).toFixed(1)} m under the top of ${what(r, bent)}, ${at(bent)}.`,
          why:
            'Layers of air bend waves away from the ground for 0.1 % of the worst month; the way ' +
            'is to be clear then, too (ITU-R P.530).',
          numbers: numbers(bent, losses.unfavourable.k),
          fixes: heightFixes(r, losses.unfavourable.points, 0),
        }
      for (const [n, o] of r.bridge.obstacles.entries()) {
        if (o.growsM === 0 || o.measuredOn === null) continue
        const measured = new Date(o.measuredOn)
        const day = grownInOn(facts, n, measured)
        const years = day && (day.getTime() - measured.getTime()) / (365.25 * 86_400_000)
        if (!day || years === null || years > SOON_YEARS) continue
        yield {
          key: `grows:${r.bridge.id}:${n}`,
          severity: 'note',
          subjects: [r.bridge.id],
          title: 'Trees grow into the beam',
          text: `${r.bridge.name}: ${o.name} will be in the way from ${day.toISOString().slice(0, 7)} on.`,
          why: `They grow ${o.growsM} m a year. Hang the antennas higher now, or plan the visit.`,
          numbers: [
            { label: 'in', value: `${years.toFixed(1)} years`, how: `after ${o.measuredOn}` },
          ],
          fixes: [],
        }
      }
    }
  },
})
