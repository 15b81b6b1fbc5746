/** What is to be said of lines once they are in. */
import type { FieldRule } from '../field/fieldRule'
import { linesInUse } from './failover/siteOutlook'
import { turnsOf } from './failover/turn'

const PLUGGED = 'plug-line'

/** C-78, C-79: a failover that nobody tried, or tried by half. */
const neverTried: FieldRule = {
  id: 'field/failover-untried',
  severity: 'caution',
  catches: ['C-78', 'C-79'],
  title: 'A failover that was never tried',
  sheet: 'bring-up',
  *check(model, facts) {
    const areIn = linesInUse(model).every((u) => {
      const stepId = u === model.lines[0] ? PLUGGED : `${u.id}.${PLUGGED}`
      return facts.steps.some((s) => s.stepId === stepId)
    })
    if (!areIn) return
    const isByHand = model.plan.site.failover.back?.kind === 'by-hand'
    for (const { line, next } of turnsOf(model)) {
      const subjects = [line.id, next.id]
      const tried = facts.drills.filter((d) => d.lineId === line.id)
      if (tried.length === 0)
        yield {
          subjects,
          text: `Nobody has tried yet whether the site goes over from ${line.name} to ${next.name}.`,
          why: 'What was never tried is known to fail on the day on which it is needed.',
        }
      else if (!isByHand && tried.every((d) => d.backSeconds === null))
        yield {
          subjects,
          text: `The failover from ${line.name} was tried, the return to it was not.`,
          why: 'A site that stays on its standby runs into its cap, and nobody notices.',
        }
      else if (tried.every((d) => !d.isAfterRestart))
        yield {
          subjects,
          text: `The failover from ${line.name} was not tried again after a restart.`,
          why: 'What was not kept over a restart is lost at the first loss of power.',
        }
    }
  },
}

export const uplinksFieldRules: readonly FieldRule[] = [neverTried]
