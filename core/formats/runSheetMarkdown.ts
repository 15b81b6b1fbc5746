/** The run sheet as Markdown, for paper or a phone without Able Mast. */
import { runSheetOf, scheduleOf, travelIn, whyBlocked } from '../bringup'
import { formatDuration } from '../words'
import type { SiteModel } from '../topology'
import { defineFormat } from './format'
import { oneLine, plain } from './markdown'

export function writeRunSheet(model: SiteModel): string {
  const steps = runSheetOf(model)
  const schedule = scheduleOf(steps, 1, travelIn(model.plan))
  const byId = new Map(steps.map((s) => [s.id, s]))
  // In the order of their times, as one person does them.
  const blocks = schedule.steps
    .map((at) => ({ at, s: byId.get(at.stepId)! }))
    .map(({ at, s }, i) =>
      [
        `${i + 1}. [ ] **${plain(s.title)}** (at ` +
          (`${formatDuration(at.startSeconds)}` +
            `${at.travelSeconds > 0 ? `, after a walk of ${formatDuration(at.travelSeconds)}` : ''}, `) +
          `${formatDuration(s.workSeconds)}${s.waitSeconds > 0 ? `, then wait ${formatDuration(s.waitSeconds)}` : ''})`,
        ...(s.blockedBy ? [`   - Blocked: ${plain(whyBlocked(s)!)}`] : []),
        ...(s.hands === 2 ? ['   - For two'] : []),
        ...(s.safety ? [`   - Caution: ${plain(s.safety)}`] : []),
        ...(s.noReturn
          ? [
              `   - Point of no return: ${plain(s.noReturn.why)} Way back: ${plain(s.noReturn.wayBack)}`,
            ]
          : []),
        ...s.words.map(
          (w) =>
            `   - ${plain(w.label)}: ${w.secret ? 'from the vault' : `\`${oneLine(w.text).replace(/`/g, '')}\``}`,
        ),
        ...(s.whileWaiting ? [`   - While it writes: ${plain(s.whileWaiting)}`] : []),
        ...(s.ifExceeded ? [`   - If it takes longer: ${plain(s.ifExceeded)}`] : []),
      ].join('\n'),
    )
  const outage = schedule.outage
    ? ` Cut over at ${formatDuration(schedule.outage.fromSeconds)}; until the last host is back it takes ` +
      `${formatDuration(schedule.outage.toSeconds - schedule.outage.fromSeconds)}.`
    : ''
  return (
    `# Run sheet of ${plain(model.plan.site.name)}\n\nWhole day ` +
    `${formatDuration(schedule.totalSeconds)}, hands on ` +
    `${formatDuration(schedule.workSeconds)}, on the way ` +
    `${formatDuration(schedule.travelSeconds)}.${outage}\n\n${blocks.join('\n')}\n`
  )
}

export const runSheetMarkdown = defineFormat({
  id: 'run-sheet',
  title: 'Run sheet (Markdown)',
  sheet: 'bring-up',
  files: 'run-sheet.md',
  mediaType: 'text/markdown',
  write: ({ model }) => ({ 'run-sheet.md': writeRunSheet(model) }),
})
