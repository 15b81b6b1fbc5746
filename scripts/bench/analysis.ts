/**
 * The whole analysis of a large plan, and after one edit, beside one validation of the same
 * document.
 */
import { findingsOf } from '@mast/core/findings'
import { chanceOf, largeShape, randomSite } from '@mast/core/generator'
import { applyEdit, planSchema, type SitePlan } from '@mast/core/plan'
import { row, timed, type Row } from './measure'

export function analysis(): Row[] {
  const plan = randomSite(chanceOf(1), largeShape)
  const copy = (): SitePlan => JSON.parse(JSON.stringify(plan)) as SitePlan
  const validation = timed(9, copy, (p) => {
    planSchema.parse(p)
  })
  const whole = timed(9, copy, (p) => {
    findingsOf(p)
  })
  let current = plan
  let n = 0
  findingsOf(current)
  const edited = (): SitePlan => {
    const outcome = applyEdit(current, {
      name: 'changeSegment',
      args: { id: 'seg-3', changes: { expectedHosts: 10 + (n++ % 50) } },
    })
    if (!outcome.ok) throw new Error()
    current = outcome.plan
    return current
  }
  const one = timed(15, edited, (p) => {
    findingsOf(p)
  })
  const tagged = timed(
    15,
    () => {
      const outcome = applyEdit(current, {
        name: n++ % 2 ? 'addTag' : 'removeTag',
        args: { segmentId: 'seg-5', portIds: ['sw-20.9'] },
      })
      if (outcome.ok) current = outcome.plan
      return current
    },
    (p) => {
      findingsOf(p)
    },
  )
  const reference = 'one Zod validation of it, ms'
  return [
    row({
      name: 'whole analysis',
      value: whole,
      unit: 'ms',
      reference,
      referenceValue: validation,
      aim: 'at most 1.5 validations',
      met: (r) => r <= 1.5,
    }),
    row({
      name: 'analysis after an edit of a segment',
      value: one,
      unit: 'ms',
      reference,
      referenceValue: validation,
      aim: 'under 16 ms',
      met: () => one < 16,
    }),
    row({
      name: 'analysis after an edit of a tag',
      value: tagged,
      unit: 'ms',
      reference,
      referenceValue: validation,
      aim: 'under 16 ms',
      met: () => tagged < 16,
    }),
  ]
}
