import { expect, it } from 'vitest'
import { lossOfMaterial, materialIds, materials, slabLossDb } from './materials'

it('a slab of concrete takes what ITU-R P.2040 reckons', () => {
  // 5.24 and 0.0462 f^0.7822 S/m at 1 GHz: 33.0 dB/m, and 1.45 dB at its faces.
  expect(slabLossDb('concrete', 0, 1000)).toBeCloseTo(1.45, 2)
  expect(slabLossDb('concrete', 1, 1000) - slabLossDb('concrete', 0, 1000)).toBeCloseTo(33.02, 1)
})
it('more of it takes more, and a higher band no less', () => {
  expect(slabLossDb('brick', 0.24, 5500)).toBeGreaterThan(slabLossDb('brick', 0.11, 5500))
  for (const id of materialIds) {
    expect(lossOfMaterial(id, '5')).toBeGreaterThanOrEqual(lossOfMaterial(id, '2.4') - 0.01)
    expect(materials[id].source).not.toBe('')
  }
})
it('common walls are in the order that the trade knows (common practice)', () => {
  const order = ['plasterboard', 'brick', 'concrete', 'concrete-thick'] as const
  const losses = order.map((id) => lossOfMaterial(id, '5'))
  expect([...losses].sort((a, b) => a - b)).toEqual(losses)
  // Plasterboard some 2 to 4 dB, concrete 10 to 25.
  expect(losses[0]).toBeLessThan(4)
  expect(losses[2]).toBeGreaterThan(10)
  expect(losses[2]).toBeLessThan(25)
})
