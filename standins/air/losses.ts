/**
 * What walls really take: handbook values by band (common practice), not the slabs that plans are
 * reckoned with.
 */
import type { PlanWall } from '@mast/core/plan'

type Material = PlanWall['material']
type BandName = '2.4' | '5' | '6'

const losses: Readonly<Record<Material, readonly [number, number, number]>> = {
  plasterboard: [2, 3, 3],
  wood: [2, 3, 3],
  glass: [3, 4, 4],
  'coated-glass': [20, 25, 28],
  brick: [4, 5, 6],
  'brick-double': [8, 10, 11],
  concrete: [12, 18, 20],
  'concrete-thick': [20, 34, 38],
  metal: [26, 32, 33],
  hedge: [3, 7, 8],
}
const columns: readonly BandName[] = ['2.4', '5', '6']
export const takes = (material: Material, band: BandName): number =>
  losses[material][columns.indexOf(band)]!
