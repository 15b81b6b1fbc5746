/** How a clean plan is broken, and what is then found (see core/findings/breaking.ts). */
import { type FindingCase } from '../../findings/breaking'
import { editCall as edit } from '../../plan'

/** @public found by its file name, in core/findings/findings.test.ts */
export const cases: readonly FindingCase[] = [
  [
    'C-01',
    [edit('recordHandOff', { uplinkId: 'fibre', facts: { mtu: null, vlan: null } })],
    'fibre',
    /Of Harbour fibre is not known yet: VLAN tag on the hand-off, MTU\./,
  ],
  [
    'C-29',
    [edit('recordHandOff', { uplinkId: 'fibre', facts: { mode: 'pppoe', mtu: 1500 } })],
    'fibre',
    /Harbour fibre signs in by PPPoE and is noted with an MTU of 1500/,
  ],
  [
    'survey/hand-off-contradicts',
    [
      edit('recordHandOff', {
        uplinkId: 'fibre',
        facts: { mode: 'fixed', address: '198.18.0.8/29', gateway: '198.18.1.1' },
      }),
    ],
    'fibre',
    /198\.18\.0\.8\/29 on Harbour fibre is the network address of its subnet\.[^]*The gateway 198\.18\.1\.1 of Harbour fibre lies outside/,
  ],
  [
    'survey/hand-off-contradicts',
    [
      edit('recordHandOff', {
        uplinkId: 'fibre',
        facts: {
          mode: 'fixed',
          address: '10.9.8.2/30',
          gateway: '10.9.8.1',
          addressKind: 'public',
        },
      }),
    ],
    'fibre',
    /Harbour fibre is noted as public, and 10\.9\.8\.2\/30 is private use \(RFC 1918\)/,
  ],
  [
    'survey/hand-off-contradicts',
    [edit('addUplink', { id: 'second', name: 'Second line', rank: 1, portId: 'gateway.wan1' })],
    'second',
    /Harbour fibre and Second line are both in Harbour gateway port wan1/,
  ],
]
/** What no button mends. @public */
export const byHand: readonly FindingCase[] = [
  [
    'survey/no-line',
    [edit('removeUplink', { id: 'fibre' })],
    'gateway',
    /Harbour gateway leads nowhere/,
  ],
  [
    'C-26',
    [edit('addUplink', { id: 'second', name: 'Second line', rank: 1 })],
    'second',
    /Second line is planned without a socket, and the gateway uses Harbour fibre alone/,
  ],
]
