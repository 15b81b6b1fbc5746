/** How a clean plan is broken, and what is then found (see core/findings/breaking.ts). */
import { type FindingCase } from '../../findings/breaking'
import { editCall as edit } from '../../plan'

/** @public found by its file name, in core/findings/findings.test.ts */
export const cases: readonly FindingCase[] = []
/** What no button mends. @public */
export const byHand: readonly FindingCase[] = [
  [
    'C-71',
    [edit('changeDevice', { id: 'quay-ap', changes: { firmware: '1.2.0' } })],
    'quay-ap',
    /Quay AP has firmware 1\.2\.0; \d[\d.]* is the least that can be claimed/,
  ],
]
