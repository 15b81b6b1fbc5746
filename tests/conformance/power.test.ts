/**
 * Power over Ethernet from first principles (IEEE 802.3 clauses 33 and 145; table values from
 * memory, re-derived here).
 */
import { expect, it } from 'vitest'
import { cableLossW, countByBudget, devicePowerW, sourcePowerW } from '@mast/core/topology'

it('type 1: 350 mA through 20 ohm lose 2.45 W, so 15.4 W become 12.95 W', () => {
  expect(cableLossW(0.35, 20)).toBeCloseTo(2.45, 10)
  expect(44 * 0.35).toBeCloseTo(sourcePowerW[3], 10)
  expect(sourcePowerW[3] - cableLossW(0.35, 20)).toBeCloseTo(devicePowerW[3], 10)
})
it('type 2: 600 mA through 12.5 ohm lose 4.5 W, so 30 W become 25.5 W', () => {
  expect(50 * 0.6).toBeCloseTo(sourcePowerW[4], 10)
  expect(sourcePowerW[4] - cableLossW(0.6, 12.5)).toBeCloseTo(devicePowerW[4], 10)
})
it('the device always gets less than the source gives', () =>
  sourcePowerW.forEach((w, i) => expect(devicePowerW[i]).toBeLessThan(w)))
it('110 W and 13.4 W a device give 8 by division, and no more than there are sockets (common practice)', () => {
  expect(countByBudget(110, 13.4, 24)).toBe(8)
  expect(countByBudget(110, 13.4, 4)).toBe(4)
})
