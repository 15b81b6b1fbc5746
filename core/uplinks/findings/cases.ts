/** How a clean plan is broken, and what is then found (see core/findings/breaking.ts). */
import { type FindingCase } from '../../findings/breaking'
import {
  editCall as edit,
  unknownHandOff,
  type EditCall,
  type LineWatch,
  type Uplink,
} from '../../plan'

const test = (target: string): LineWatch['tests'][number] => ({ kind: 'ping', target, port: null })
const watch = (changes: Partial<LineWatch> = {}): LineWatch => ({
  tests: [test('198.51.100.7'), test('203.0.113.9')],
  need: 'any',
  intervalSeconds: 5,
  answerSeconds: 2,
  failures: 12,
  successes: 4,
  linkLoss: 'at-once',
  ...changes,
})
const fibre = (changes: Partial<Uplink>): EditCall => edit('changeUplink', { id: 'fibre', changes })
/** A second line beside the first, with which nothing is wrong. */
const second = (changes: Partial<Uplink> = {}): EditCall[] => [
  edit('addUplink', {
    id: 'second',
    name: 'Second line',
    rank: 1,
    portId: 'gateway.wan2',
    ...changes,
  }),
  edit('changeSite', { failover: { back: { kind: 'at-once' } } }),
  fibre({ watch: watch() }),
]
const choice = (id: string, more: object): EditCall =>
  edit('addLineChoice', {
    id,
    from: 'visitors',
    service: 'any',
    uplinkIds: ['fibre'],
    rank: 1,
    reason: '',
    ...more,
  })
const namesKnown = edit('recordHandOff', {
  uplinkId: 'fibre',
  facts: { nameServers: ['198.51.100.53', '198.51.100.54'] },
})

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
  [
    'C-23',
    [...second(), namesKnown, fibre({ watch: null })],
    'fibre',
    /Nothing asks whether Harbour fibre leads anywhere/,
  ],
  [
    'C-23',
    [...second(), namesKnown, fibre({ watch: watch({ tests: [test('198.51.100.7')] }) })],
    'fibre',
    /Harbour fibre is tested by one target alone: 198\.51\.100\.7/,
  ],
  [
    'C-23',
    [
      ...second(),
      namesKnown,
      fibre({ watch: watch({ tests: [test('one.example'), test('two.example')] }) }),
    ],
    'fibre',
    /tested by names alone: one\.example, two\.example/,
  ],
  [
    'C-23',
    [
      ...second(),
      namesKnown,
      edit('recordHandOff', { uplinkId: 'fibre', facts: { providerLan: '192.168.1.0/24' } }),
      fibre({
        watch: watch({
          tests: [test('192.168.1.1'), test('198.51.100.7'), test('192.0.2.7')],
          need: 'any',
        }),
      }),
    ],
    'fibre',
    /taken to work as long as the provider's own box answers: 192\.168\.1\.1/,
  ],
  [
    'C-24',
    [
      ...second(),
      edit('changeSite', { failover: { toleratedSeconds: 30, falseSwitchesAYear: 1 } }),
    ],
    'fibre',
    /Second line takes over after 63 s at the most; the site lives with 30 s/,
  ],
  [
    'C-24',
    [
      ...second(),
      fibre({
        watch: watch({ tests: [test('198.51.100.7')], failures: 2 }),
        loss: { percent: 1, bursts: null },
      }),
      edit('changeSite', { failover: { toleratedSeconds: 60, falseSwitchesAYear: 1 } }),
    ],
    'fibre',
    /Harbour fibre is left for nothing 624 times a year; 1 are accepted/,
  ],
  [
    'C-28',
    [
      ...second(),
      edit('changeProfile', {
        id: 'gateway-4-2',
        changes: {
          limits: {
            controllerCapacity: null,
            tunnels: null,
            plainMbps: 1000,
            inspectedMbps: 90,
            tunnelledMbps: null,
          },
        },
      }),
      edit('recordHandOff', { uplinkId: 'fibre', facts: { downMbps: 500 } }),
      fibre({ isInspected: true }),
    ],
    'fibre',
    /Harbour fibre brings 500 Mbit\/s, and Harbour gateway looks into 90 Mbit\/s/,
  ],
  [
    'C-30',
    [...second(), edit('changeSite', { failover: { back: null } })],
    'fibre',
    /Nothing says when Harbour fibre is used again after Second line took over/,
  ],
  [
    'C-30',
    [...second(), edit('changeSite', { failover: { back: { kind: 'by-hand', owner: '' } } })],
    'fibre',
    /gone back to by hand, and nobody is named/,
  ],
  [
    'uplinks/choices',
    [
      edit('addUplink', { id: 'spare', name: 'Spare line', rank: 1 }),
      choice('c-1', { uplinkIds: ['spare'] }),
    ],
    'c-1',
    /Visitors may leave by Spare line alone, and none of it is in a socket/,
  ],
  ['uplinks/choices', [choice('c-1', { uplinkIds: [] })], 'c-1', /Visitors may leave by no line/],
  [
    'uplinks/choices',
    [choice('c-1', {}), choice('c-2', { rank: 5 })],
    'c-2',
    /What is said of Visitors is never asked/,
  ],
  [
    'uplinks/sharing',
    [...second({ rank: 0, weight: 0 }), fibre({ weight: 0 })],
    'fibre',
    /have the same order, and all of them a weight of 0/,
  ],
]
/** What no button mends. @public */
export const byHand: readonly FindingCase[] = [
  [
    'C-23',
    [
      ...second(),
      edit('recordHandOff', { uplinkId: 'fibre', facts: { providerLan: '192.168.1.0/24' } }),
      fibre({ watch: watch({ tests: [test('192.168.1.1')] }) }),
    ],
    'fibre',
    /tested by the provider's own box alone: 192\.168\.1\.1/,
  ],
  [
    'C-25',
    [
      ...second({ parts: [{ kind: 'power strip', name: 'Cupboard', failing: null }] }),
      fibre({ parts: [{ kind: 'power strip', name: 'cupboard ', failing: null }] }),
    ],
    'second',
    /Harbour fibre and Second line both depend on the power strip cupboard/,
  ],
  [
    'C-27',
    [
      ...second({ handOff: { ...unknownHandOff, addressKind: 'carrier-grade' } }),
      edit('addForward', {
        id: 'board',
        name: 'Board',
        protocol: 'tcp',
        outside: { first: 8443, last: 8443 },
        deviceId: 'harbour-desk',
        inside: 443,
        reason: '',
      }),
    ],
    'board',
    /While Second line is used, nobody outside reaches Board: its address is shared/,
  ],
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
  [
    'uplinks/cellular-facts',
    [...second({ handOff: { ...unknownHandOff, mode: 'cellular' } })],
    'second',
    /Of Second line is not known yet: the access point name, the account that pays for it, the number/,
  ],
]
