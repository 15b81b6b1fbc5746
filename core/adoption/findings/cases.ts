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
  [
    'C-71',
    [edit('changeDevice', { id: 'quay-ap', changes: { firmwareWanted: '1.2.0' } })],
    'quay-ap',
    /Quay AP is to run firmware 1\.2\.0; \d[\d.]* is the least that can be claimed/,
  ],
  [
    'C-71',
    [
      edit('setController', { runs: 'when-needed' }),
      edit('changeSite', { wireless: { channels: 'nightly' } }),
    ],
    'controller',
    /planned anew at 03:00 by a controller that is started only when needed/,
  ],
  [
    'C-71',
    [
      edit('setController', { accounts: 'hosted' }),
      edit('stateFirst', {
        id: 'shut',
        from: 'controller',
        to: 'internet',
        service: 'any',
        action: 'deny',
        reason: 'it is not to call out',
      }),
    ],
    'controller',
    /Accounts of the controller are kept on the internet, and Controller in .* does not get there/,
  ],
  [
    'C-73',
    [edit('setController', { hosted: { name: 'fleet.example.net' }, discovery: 'dns-name' })],
    'gateway',
    /Devices ask for controller\.internal, and the controller is fleet\.example\.net/,
  ],
  [
    'C-67',
    [
      edit('stateFirst', {
        id: 'shut',
        from: 'management',
        to: 'internet',
        service: 'any',
        action: 'deny',
        reason: 'devices are not to call out',
      }),
    ],
    'management',
    /in .* asks? a server on the internet for the time and gets? no answer: devices are not to call out/,
  ],
  [
    'C-68',
    [
      edit('changeDevice', {
        id: 'quay-ap',
        changes: { watchdog: { address: '10.99.9.9', everySeconds: 60, failures: 3 } },
      }),
    ],
    'quay-ap',
    /The watchdog of Quay AP asks 10\.99\.9\.9, and nobody answers/,
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
