/** What is to be said of the order of the steps and of the laptop. */
import { nameOf, secondsSince, type FieldRule } from '../field/fieldRule'
import { isOlder } from '../field/isOlder'
import { roughDuration } from '../words'
import { slowSocket } from './lamps/slowSocket'
import { waitsOf } from './waiting/waits'

export const bringupFieldRules: readonly FieldRule[] = [
  slowSocket,
  {
    id: 'field/cut-while-writing',
    severity: 'blocker',
    catches: ['C-63'],
    title: 'A device went silent while it was writing',
    sheet: 'bring-up',
    *check(model, facts) {
      for (const d of facts.devices) {
        if (!model.plan.devices[d.deviceId] || d.state !== 'lost') continue
        if (d.phase !== 'loading-firmware' && d.phase !== 'loading-configuration') continue
        const { waits } = model.profileOf(d.deviceId)
        const isFirmware = d.phase === 'loading-firmware'
        const usual = (isFirmware ? waits.firmwareSeconds : waits.applySeconds) + waits.bootSeconds
        yield {
          subjects: [d.deviceId],
          text:
            `${nameOf(model, d.deviceId)} was writing its ${isFirmware ? 'firmware' : 'configuration'} ` +
            'when it was last heard, and has not called since.',
          why:
            'Leave its power on: it may still be at it. If it was cut off, its memory may hold half ' +
            'of what was written; then reset it, load the version from before by its own page, and ' +
            'let it fetch its configuration again.',
          numbers: [
            {
              label: 'silent for',
              value:
                d.lastHeardMs === null
                  ? 'always'
                  : roughDuration(secondsSince(d.lastHeardMs, facts)),
            },
            {
              label: 'usual',
              value: roughDuration(usual),
              how: 'writing and starting, from its profile',
            },
          ],
        }
      }
    },
  },
  {
    id: 'field/wait-exceeded',
    severity: 'caution',
    catches: ['C-65'],
    title: 'A wait took longer than it ever should',
    sheet: 'bring-up',
    *check(model, facts, sheet) {
      for (const w of waitsOf(sheet, facts.steps, facts.nowMs))
        if (w.check !== null)
          yield {
            subjects: [w.deviceId ?? w.stepId],
            text: `"${w.title}" should have been over ${roughDuration(w.overSeconds)} ago, and nothing came of it.`,
            why: w.check,
            numbers: [
              { label: 'waited', value: roughDuration(w.wholeSeconds + w.overSeconds) },
              { label: 'usual', value: `up to ${roughDuration(w.wholeSeconds)}` },
            ],
          }
    },
  },
  {
    id: 'field/saved-not-applied',
    severity: 'caution',
    catches: ['C-86'],
    title: 'Saved at its page and not applied',
    sheet: 'bring-up',
    *check(model, facts, sheet) {
      const done = new Map(facts.steps.map((s) => [s.stepId, s]))
      for (const d of facts.devices) {
        if (!model.plan.devices[d.deviceId] || d.phase !== 'running' || d.runs !== null) continue
        const step = sheet.find(
          (s) =>
            s.deviceId === d.deviceId &&
            s.action?.kind === 'page' &&
            s.action.act === 'configuration',
        )
        const set = step && done.get(step.id)
        // What it did before somebody was at its page says nothing of that.
        if (!set || d.lastHeardMs === null || d.lastHeardMs <= set.readyMs) continue
        yield {
          subjects: [d.deviceId],
          text: `${nameOf(model, d.deviceId)} was set up at its own page, and runs its factory settings.`,
          why:
            'What was typed was saved and never applied, or it went into another unit. Open its page ' +
            'anew: is it there? Then apply it, and wait until it has started.',
          numbers: [
            { label: 'set up', value: `${roughDuration(secondsSince(set.doneMs, facts))} ago` },
            { label: 'heard', value: `${roughDuration(secondsSince(d.lastHeardMs, facts))} ago` },
          ],
        }
      }
    },
  },
  {
    id: 'field/backup-old',
    severity: 'note',
    catches: ['C-66'],
    title: 'A backup is of another configuration than runs',
    sheet: 'adopt',
    *check(model, facts, sheet) {
      const kept = new Map(facts.backups.map((b) => [b.deviceId, b]))
      const done = new Set(facts.steps.map((s) => s.stepId))
      const isProven = sheet.some((s) => s.kind === 'prove' && done.has(s.id))
      for (const d of facts.devices) {
        if (!model.plan.devices[d.deviceId] || d.state !== 'in-service' || d.runs === null) continue
        const backup = kept.get(d.deviceId)
        if (backup ? backup.digest === d.runs : !isProven) continue
        yield {
          subjects: [d.deviceId],
          text: backup
            ? `The backup of ${nameOf(model, d.deviceId)} is of a configuration that it no longer runs.`
            : `${nameOf(model, d.deviceId)} is in service and was never backed up.`,
          why: backup
            ? 'Whoever puts it back from that has the site of that day. Back it up again: its step in ' +
              'Bring-up, ticked anew.'
            : 'If it dies, its configuration has to be made again: back it up.',
          numbers: backup
            ? [
                {
                  label: 'backup',
                  value: backup.digest.slice(0, 12),
                  how: `taken ${roughDuration(secondsSince(backup.atMs, facts))} ago`,
                },
                { label: 'runs', value: d.runs.slice(0, 12) },
              ]
            : [],
        }
      }
    },
  },
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
