/** How a clean plan is broken, and what is then found (see core/findings/breaking.ts). */
import { type FindingCase } from '../../findings/breaking'
import { editCall as edit } from '../../plan'

/** @public found by its file name, in core/findings/findings.test.ts */
export const cases: readonly FindingCase[] = [
  [
    'C-71',
    [edit('changeDevice', { id: 'gateway', changes: { school: 'prepared' } })],
    'gateway',
    /is to have everything from the controller, and cannot: the controller is behind it/,
  ],
  [
    'C-71',
    [edit('changeDevice', { id: 'quay-ap', changes: { setUpBy: 'console' } })],
    'quay-ap',
    /is to be reached by its serial console, which its profile has not; it has its cable/,
  ],
]
/** What no button mends. @public */
export const byHand: readonly FindingCase[] = []
