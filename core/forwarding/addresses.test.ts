import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { addressing } from '../findings/breaking'
import { findingsOf } from '../findings'
import { applyEdits, editCall as edit, type EditCall } from '../plan'
import { siteModel } from '../topology'
import { trace, type Endpoint } from '.'

const printer: Endpoint = { kind: 'device', id: 'printer' }
const desk: Endpoint = { kind: 'device', id: 'harbour-desk' }
const internet: Endpoint = { kind: 'internet' }
const fate = (calls: readonly EditCall[], from: Endpoint, to: Endpoint): string => {
  const plan = applyEdits(quayside(), calls)
  const { verdict, decidedBy } = trace(siteModel(plan), from, to, plan.services['svc-web']!)
  return `${verdict}: ${decidedBy.text}`
}
const at = (mode: string, own: string, gateway: string | null): EditCall =>
  edit('changeDevice', { id: 'printer', changes: addressing(mode, 'office-net', own, gateway) })

describe('a trace and the rules agree on addresses that cannot be', () => {
  it.each([
    [
      'the network address',
      [at('fixed', '10.20.20.0', '10.20.20.1')],
      'is the network address itself',
    ],
    [
      'the broadcast address',
      [at('fixed', '10.20.20.255', '10.20.20.1')],
      'is the broadcast address',
    ],
    [
      "the gateway's address",
      [at('fixed', '10.20.20.1', '10.20.20.1')],
      'the address of the gateway',
    ],
    [
      'the address of another',
      [
        at('fixed', '10.20.20.9', '10.20.20.1'),
        edit('changeDevice', {
          id: 'harbour-desk',
          changes: addressing('fixed', 'office-net', '10.20.20.9', '10.20.20.1'),
        }),
      ],
      'have the same address, 10.20.20.9',
    ],
  ])('%s', (_, calls, words) => {
    expect(fate(calls, printer, desk)).toMatch(/^broken: /)
    expect(fate(calls, printer, desk)).toContain(words)
    const plan = applyEdits(quayside(), calls)
    expect(
      findingsOf(plan).some((f) => f.severity === 'blocker' && f.subjects.includes('printer')),
    ).toBe(true)
  })
  it('a host that sends to another gateway reaches its own segment and nothing beyond', () => {
    const calls = [at('fixed', '10.20.20.9', '10.99.0.1')]
    expect(fate(calls, printer, internet)).toMatch(/^broken: .*sends to the gateway 10\.99\.0\.1/)
    expect(fate(calls, printer, desk)).toMatch(/^delivered/)
  })
  it('on the air and through a port forward it is the same', () => {
    const phone: Endpoint = { kind: 'device', id: 'visitor-phone' }
    const gatewayOf = quayside().segments.visitors!.gateway!
    const air = edit('changeDevice', {
      id: 'visitor-phone',
      changes: addressing('fixed', 'visitors', gatewayOf, gatewayOf),
    })
    const carried = edit('addTag', { segmentId: 'visitors', portIds: ['switch.2'] })
    expect(fate([carried], phone, internet)).toMatch(/^delivered/)
    expect(fate([carried, air], phone, internet)).toMatch(/^broken: .* the address of the gateway/)
    const forward = edit('addForward', {
      id: 'board',
      name: 'Board',
      protocol: 'tcp',
      outside: { first: 8080, last: 8080 },
      inside: 80,
      deviceId: 'printer',
      reason: '',
    })
    const board: Endpoint = { kind: 'forward', id: 'board' }
    expect(fate([at('fixed', '10.20.20.9', '10.20.20.1'), forward], internet, board)).toMatch(
      /^delivered/,
    )
    expect(fate([at('fixed', '10.20.20.9', '10.99.0.1'), forward], internet, board)).toMatch(
      /^broken: .*sends to the gateway 10\.99\.0\.1/,
    )
  })
  it('a subnet that meets the LAN beyond the line is on both sides, if it only overlaps', () => {
    const calls = [
      edit('recordHandOff', { uplinkId: 'fibre', facts: { providerLan: '10.20.0.0/16' } }),
    ]
    expect(fate(calls, desk, internet)).toMatch(/^broken: .* is on both sides of the gateway/)
  })
})
