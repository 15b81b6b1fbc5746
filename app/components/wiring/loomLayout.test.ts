import { describe, expect, it } from 'vitest'
import { quayside } from '../../../tests/sites/quayside'
import { applyEdits, createPlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { curve, layLoom } from './loomLayout'

const lay = (plan = quayside()) => layLoom(siteModel(plan))

describe('the loom', () => {
  it('puts devices in columns by their distance from the gateway, the phone behind its access point', () => {
    const column = Object.fromEntries(lay().devices.map((d) => [d.device.id, d.column]))
    expect(column).toMatchObject({
      gateway: 0,
      switch: 1,
      'kiosk-switch': 1,
      'quay-ap': 2,
      'fuel-till': 2,
      'visitor-phone': 3,
    })
  })
  it('lets no two devices lie on each other, and every cable end in its device', () => {
    const { devices, cables } = lay()
    for (const [i, a] of devices.entries())
      for (const b of devices.slice(i + 1))
        if (a.x === b.x) expect(a.y + a.height <= b.y || b.y + b.height <= a.y).toBe(true)
    for (const c of cables) {
      expect(
        devices.some(
          (d) => c.from.x === d.x + d.width && c.from.y > d.y && c.from.y < d.y + d.height,
        ),
      ).toBe(true)
      expect(devices.some((d) => c.to.x === d.x && c.to.y > d.y && c.to.y < d.y + d.height)).toBe(
        true,
      )
    }
  })
  it('draws a strand for each VLAN, and a break as a break at the port that lacks it', () => {
    const cable = (id: string) => lay().cables.find((c) => c.id === id)!.strands
    expect(cable('l-trunk')).toMatchObject([
      { segmentId: 'management', form: 'untagged', state: 'whole' },
      { segmentId: 'office-net', form: 20, state: 'whole' },
      { segmentId: 'cameras', state: 'whole' },
      { segmentId: 'visitors', state: 'whole' },
    ])
    expect(cable('l-ap')).toMatchObject([
      { segmentId: 'management', state: 'whole' },
      { segmentId: 'visitors', form: null, state: 'missing' },
    ])
    const half = applyEdits(quayside(), [
      { name: 'addTag', args: { segmentId: 'visitors', portIds: ['switch.2'] } },
      { name: 'removeTag', args: { segmentId: 'visitors', portIds: ['quay-ap.eth0'] } },
    ])
    expect(
      lay(half)
        .cables.find((c) => c.id === 'l-ap')!
        .strands.at(-1),
    ).toMatchObject({ segmentId: 'visitors', form: 90, state: 'stops' })
  })
  it('lists what has no cable, and draws nothing without a gateway', () => {
    expect(
      lay(applyEdits(quayside(), [{ name: 'removeLink', args: { id: 'l-printer' } }])).loose.map(
        (d) => d.id,
      ),
    ).toEqual(['printer'])
    expect(lay(createPlan('x'))).toMatchObject({ devices: [], cables: [] })
  })
  it('a strand that stops ends before its cable', () => {
    expect(curve({ x: 0, y: 0 }, { x: 100, y: 50 }, 0)).toMatch(/100 50$/)
    expect(curve({ x: 0, y: 0 }, { x: 100, y: 50 }, 4, 0.5)).toMatch(/50 (\d+(\.\d+)?)$/)
  })
})
