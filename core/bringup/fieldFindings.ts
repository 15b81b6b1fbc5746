/** What is to be said of the order of the steps and of the laptop. */
import { nameOf, type FieldRule } from '../field/fieldRule'
import { isOlder } from '../field/isOlder'

export const bringupFieldRules: readonly FieldRule[] = [
  {
    id: 'field/laptop-fixed',
    severity: 'caution',
    catches: ['C-62'],
    title: 'The laptop is still on a fixed address',
    sheet: 'bring-up',
    *check(model, facts, sheet) {
      const done = new Map(facts.steps.map((s) => [s.stepId, s.doneMs]))
      const laptops = sheet.filter((s) => s.kind === 'laptop' && done.has(s.id))
      const last = laptops.sort((a, b) => done.get(a.id)! - done.get(b.id)!).at(-1)
      const moved = sheet.filter(
        (s) => ['cable', 'plug-line', 'prove'].includes(s.kind) && done.has(s.id),
      )
      if (!last || done.has('laptop-automatic') || moved.length === 0) return
      yield {
        subjects: [last.deviceId ?? last.id],
        text:
          `It was set to ${last.words[0]?.text ?? 'a factory subnet'} for ` +
          `${nameOf(model, last.deviceId ?? '')} and nobody ticked that it is back to ` +
          'automatic.',
        why: 'On the finished site it would reach nothing, and its tests would say that the site does not work.',
        numbers: [{ label: 'steps since', value: String(moved.length) }],
      }
    },
  },
  {
    id: 'field/out-of-order',
    severity: 'caution',
    catches: ['C-64'],
    title: 'Steps were done out of order',
    sheet: 'bring-up',
    *check(model, facts, sheet) {
      const done = new Map(facts.steps.map((s) => [s.stepId, s.doneMs]))
      const title = new Map(sheet.map((s) => [s.id, s.title]))
      for (const s of sheet) {
        const at = done.get(s.id)
        if (at === undefined) continue
        const early = s.needs.filter((n) => !done.has(n) || done.get(n)! > at)
        if (early.length === 0) continue
        yield {
          subjects: [s.deviceId ?? s.id],
          text:
            `"${s.title}" is ticked before ` +
            (`${early.map((n) => `"${title.get(n) ?? n}"`).join(' and ')}` +
              `${early.some((n) => done.has(n)) ? '' : ', which is still open'}.`),
          why: 'What the later step relied on was not there: look whether it took effect, or do it again.',
        }
      }
      for (const d of facts.devices) {
        const device = model.plan.devices[d.deviceId]
        if (!device || !d.firmware || d.configurationMatches !== true) continue
        const { wanted } = model.profileOf(d.deviceId).firmware
        if (isOlder(d.firmware, wanted))
          yield {
            subjects: [d.deviceId],
            text: `${device.name} runs its configuration on firmware ${d.firmware}; ${wanted} comes first.`,
            why: 'An update after the configuration may drop settings that the old version wrote differently.',
          }
      }
    },
  },
]
