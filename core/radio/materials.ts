/** What walls are made of, and what they take of a signal. */
import type { Band } from './bands'
import { middleMhz } from './bands'

/**
 * Constants of ITU-R P.2040, table 3 (from memory): relative permittivity a f^b, conductivity
 * c f^d in S/m, f in GHz.
 */
const substances = {
  concrete: { a: 5.24, b: 0, c: 0.0462, d: 0.7822 },
  brick: { a: 3.91, b: 0, c: 0.0238, d: 0.16 },
  plasterboard: { a: 2.73, b: 0, c: 0.0085, d: 0.9395 },
  wood: { a: 1.99, b: 0, c: 0.0047, d: 1.0718 },
  glass: { a: 6.31, b: 0, c: 0.0036, d: 1.3394 },
} as const
export type Substance = keyof typeof substances

/**
 * What a slab takes, dB, straight on: on its way through it 1636 sigma / sqrt(eta) dB/m, and at its
 * two faces what the change of medium sends back (ITU-R P.2040 2.1.4 and 2.2.2, low losses; echoes
 * within the slab left out).
 * @param thicknessM m
 * @param mhz frequency
 */
export function slabLossDb(substance: Substance, thicknessM: number, mhz: number): number {
  const { a, b, c, d } = substances[substance]
  const ghz = mhz / 1000
  const permittivity = a * ghz ** b
  const conductivity = c * ghz ** d
  const n = Math.sqrt(permittivity)
  const passes = (4 * n) / (1 + n) ** 2
  return ((1636 * conductivity) / n) * thicknessM - 20 * Math.log10(passes)
}

export const materialIds = [
  'plasterboard',
  'wood',
  'glass',
  'coated-glass',
  'brick',
  'brick-double',
  'concrete',
  'concrete-thick',
  'metal',
  'hedge',
] as const
export type MaterialId = (typeof materialIds)[number]

interface Material {
  readonly name: string
  /** Of one or more slabs with air between them. */
  readonly slabs?: readonly (readonly [Substance, number])[]
  /** Where no formula holds, dB by band. */
  readonly lossDb?: Readonly<Record<Band, number>>
  readonly source: string
}
const itu = 'ITU-R P.2040'
const usual = 'common practice'
export const materials: Readonly<Record<MaterialId, Material>> = {
  plasterboard: {
    name: 'plasterboard on studs',
    slabs: [
      ['plasterboard', 0.0125],
      ['plasterboard', 0.0125],
    ],
    source: itu,
  },
  wood: { name: 'wood, 40 mm', slabs: [['wood', 0.04]], source: itu },
  glass: {
    name: 'glass, two panes',
    slabs: [
      ['glass', 0.004],
      ['glass', 0.004],
    ],
    source: itu,
  },
  'coated-glass': {
    name: 'glass that keeps the heat out',
    lossDb: { '2.4': 22, '5': 26, '6': 28 },
    source: usual,
  },
  brick: { name: 'brick, 11 cm', slabs: [['brick', 0.11]], source: itu },
  'brick-double': { name: 'brick, 24 cm', slabs: [['brick', 0.24]], source: itu },
  concrete: { name: 'concrete, 15 cm', slabs: [['concrete', 0.15]], source: itu },
  'concrete-thick': { name: 'concrete, 30 cm', slabs: [['concrete', 0.3]], source: itu },
  metal: { name: 'metal', lossDb: { '2.4': 30, '5': 35, '6': 36 }, source: usual },
  hedge: { name: 'hedge or trees', lossDb: { '2.4': 4, '5': 8, '6': 9 }, source: usual },
}

/** What is taken for a band as a whole: at about its middle. */
const middles: Readonly<Record<Band, number>> = {
  '2.4': middleMhz('2.4', 6),
  '5': middleMhz('5', 100),
  '6': middleMhz('6', 93),
}
/** What a wall of it takes, dB. */
export function lossOfMaterial(id: MaterialId, band: Band): number {
  const { slabs, lossDb } = materials[id]
  return (
    lossDb?.[band] ??
    (slabs ?? []).reduce((sum, [s, thickness]) => sum + slabLossDb(s, thickness, middles[band]), 0)
  )
}
