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
]
/** What no button mends. @public */
export const byHand: readonly FindingCase[] = [
  [
    'C-26',
    [edit('addUplink', { id: 'second', name: 'Second line', rank: 1 })],
    'second',
    /Second line is planned without a socket, and the gateway uses Harbour fibre alone/,
  ],
]
