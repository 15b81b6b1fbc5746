/** C-24: a switch that comes too late for the site, or for nothing too often. */
import { editCall, type Uplink } from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'
import type { SiteModel } from '../../topology'
import { exactDuration } from '../../words'
import { linesInUse, siteOutlook, siteTuning, startWords } from '../failover/siteOutlook'
import { withSetting, type Tuned } from '../failover/tuner'

const words = (t: Tuned): string =>
  `every ${exactDuration(t.intervalSeconds)}, ${t.failures} in a row`
function setting(model: SiteModel, u: Uplink): Fix[] {
  const best = siteTuning(model)?.best
  if (!best || !u.watch) return []
  return [
    {
      label: `Test ${u.name} ${words(best)}`,
      edits: [
        editCall('changeUplink', {
          id: u.id,
          changes: { watch: withSetting(u.watch, best) },
        }),
      ],
    },
  ]
}
const rate = (n: number): string =>
  n < 10 ? String(Number(n.toPrecision(2))) : String(Math.round(n))

export default defineRule({
  id: 'uplinks/switch-times',
  severity: 'caution',
  catches: ['C-24'],
  title: 'The switch does not suit the site',
  sheet: 'uplinks',
  reads: ['uplinks', 'site'],
  *check(model) {
    const outlook = siteOutlook(model)
    const [u, standby] = linesInUse(model)
    if (!outlook?.over || !u?.watch || !standby || u.watch.tests.length === 0) return
    const { toleratedSeconds, falseSwitchesAYear } = model.plan.site.failover
    const { worst } = outlook.over
    const { intervalSeconds, failures, answerSeconds } = u.watch
    if (toleratedSeconds !== null && worst > toleratedSeconds)
      yield {
        key: `${u.id} late`,
        subjects: [u.id, standby.id],
        title: 'The switch comes too late',
        text:
          `When ${u.name} dies, ${standby.name} takes over after ${exactDuration(worst)} at the ` +
          `most; the site lives with ${exactDuration(toleratedSeconds)}.`,
        why: 'Whoever is served in that time is not.',
        numbers: [
          {
            label: 'at the most',
            value: exactDuration(worst),
            how:
              `${failures} x ${intervalSeconds} s + ${answerSeconds} s for the answer` +
              startWords(standby) +
              ` + ${model.plan.site.failover.switchSeconds} s`,
          },
        ],
        fixes: setting(model, u),
      }
    if (falseSwitchesAYear !== null && outlook.falseSwitchesAYear > falseSwitchesAYear)
      yield {
        key: `${u.id} false`,
        subjects: [u.id],
        title: 'Loss alone makes it switch',
        text:
          `${u.name} is left for nothing ${rate(outlook.falseSwitchesAYear)} times a year; ` +
          `${rate(falseSwitchesAYear)} are accepted.`,
        why: 'Each switch breaks what was connected, and may cost data on the standby.',
        numbers: [
          {
            label: 'false switches a year',
            value: rate(outlook.falseSwitchesAYear),
            how:
              `runs of ${failures} lost rounds among ${rate(31_557_600 / intervalSeconds)} a year ` +
              `(Feller)`,
          },
        ],
        fixes: setting(model, u),
      }
  },
})
