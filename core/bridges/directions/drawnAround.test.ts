import { describe, expect, it } from 'vitest'
import { applyEdits, createPlan, editCall as edit, type Floor } from '../../plan'
import { along, between } from '../geodesy/between'
import { drawnAround } from './drawnAround'

const at = { latitude: 57.9, longitude: -6.7 }
const site = (lies: Floor['lies']) =>
  applyEdits(createPlan('Sound'), [
    edit('addFloor', { id: 'yard', name: 'Yard', widthM: 100, depthM: 50, lies }),
    edit('addWall', {
      id: 'wall',
      floorId: 'yard',
      material: 'wood',
      points: [
        { x: 10, y: 20 },
        { x: 60, y: 20 },
      ],
    }),
  ])
const near = (a: readonly number[], b: readonly number[]): void =>
  a.forEach((n, i) => expect(n).toBeCloseTo(b[i]!, 3))

describe('drawings of the place around a point', () => {
  it('lie where their corner lies, with what is up turned to where it looks', () => {
    expect(drawnAround(site(null), at)).toEqual([])
    const north = drawnAround(site({ ...at, upDegrees: 0 }), at)[0]!
    near(north.outline[2]!, [100, -50])
    near(north.walls[0]![1]!, [60, -20])
    // Its top looks east: its right side is south, its foot west.
    const east = drawnAround(site({ ...at, upDegrees: 90 }), at)[0]!
    near(east.outline[1]!, [0, -100])
    near(east.outline[3]!, [-50, 0])
  })
  it('are as far off as the geodesic says', () => {
    const [corner] = along(at, { latitude: 57.92, longitude: -6.66 }, [700])
    const [east, northM] = drawnAround(site({ ...corner!, upDegrees: 33 }), at)[0]!.outline[0]!
    expect(Math.hypot(east, northM)).toBeCloseTo(700, 6)
    const bearing = (Math.atan2(east, northM) * 180) / Math.PI
    expect(bearing).toBeCloseTo(between(at, corner!).fromADegrees, 6)
  })
})
