/** How a clean plan is broken, and what is then found (see core/findings/breaking.ts). */
import { type FindingCase } from '../../findings/breaking'
import { editCall as edit } from '../../plan'

/** @public found by its file name, in core/findings/findings.test.ts */
export const cases: readonly FindingCase[] = [
  [
    'C-71',
    [edit('setController', { hostDeviceId: null })],
    'gateway',
    /No controller is in the plan: .* are set up by their own pages/,
  ],
  [
    'C-73',
    [
      edit('changeDevice', {
        id: 'controller',
        changes: {
          addressing: { mode: 'automatic', segmentId: 'management', address: null, gateway: null },
        },
      }),
    ],
    'controller',
    /hosts the controller and has no address in the plan/,
  ],
]
/** What no button mends. @public */
export const byHand: readonly FindingCase[] = [
  [
    'C-71',
    [edit('changeDevice', { id: 'quay-ap', changes: { firmware: '1.2.0' } })],
    'quay-ap',
    /Quay AP has firmware 1\.2\.0; \d[\d.]* is the least that can be claimed/,
  ],
]
