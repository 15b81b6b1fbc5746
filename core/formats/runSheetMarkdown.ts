/** The run sheet as Markdown, for paper or a phone without Able Mast. */
import { formatDuration, runSheetOf, scheduleOf } from '../bringup'
import type { SiteModel } from '../topology'

/** Names as text and nothing else: no marks, no links, no pictures, no lines of their own (CommonMark 2.4: a backslash makes punctuation plain). */
const oneLine = (text: string): string => text.replace(/[\s\u0085\u2028\u2029]+/g, ' ')
const plain = (text: string): string => oneLine(text).replace(/([\\`*_|<>[\](){}#!~&$^])/g, '\\$1')

export function writeRunSheet(model: SiteModel): string {
  const steps = runSheetOf(model)
  const schedule = scheduleOf(steps)
  const start = new Map(schedule.steps.map((s) => [s.stepId, s.startSeconds]))
  const blocks = steps.map((s, i) => [
    `${i + 1}. [ ] **${plain(s.title)}** (at ${formatDuration(start.get(s.id)!)}, ${formatDuration(s.workSeconds)}${s.waitSeconds > 0 ? `, then wait ${formatDuration(s.waitSeconds)}` : ''})`,
    ...(s.blockedBy ? [`   - Blocked: ${plain(s.blockedBy)}`] : []),
    ...(s.safety ? [`   - Caution: ${plain(s.safety)}`] : []),
    ...s.words.map((w) => `   - ${plain(w.label)}: ${w.secret ? 'from the vault' : `\`${oneLine(w.text).replace(/`/g, '')}\``}`),
    ...(s.whileWaiting ? [`   - While it writes: ${plain(s.whileWaiting)}`] : []),
    ...(s.ifExceeded ? [`   - If it takes longer: ${plain(s.ifExceeded)}`] : []),
  ].join('\n'))
  return `# Run sheet of ${plain(model.plan.site.name)}\n\nWhole day ${formatDuration(schedule.totalSeconds)}, hands on ${formatDuration(schedule.workSeconds)}.\n\n${blocks.join('\n')}\n`
}
