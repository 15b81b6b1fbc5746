import { describe, expect, it } from 'vitest'
import type { HeightGrid } from '../terrain/tile'
import { rankPair, rankPairs, readCandidates, type Candidate } from './rank'

const side = 201
/** A plain with a wall of 60 m along a meridian in its middle. */
function plain(wallM: number): HeightGrid {
  const heights = new Int16Array(side * side).fill(10)
  for (let row = 0; row < side; row++) heights[row * side + 100] = 10 + wallM
  return {
    heights,
    columns: side,
    rows: side,
    west: -7,
    north: 58,
    stepLongitude: 1 / 1200,
    stepLatitude: 1 / 1200,
    voidHeight: -32_768,
  }
}
const mast = (name: string, longitude: number, heightM = 20): Candidate => ({
  name,
  latitude: 57.92,
  longitude,
  heightM,
})
const west = mast('west', -6.99)
const mid = mast('middle', -6.94)
const east = mast('east', -6.86)

describe('ranking masts', () => {
  it('puts those first that see each other, and says what is in the way of the others', () => {
    const ranked = rankPairs(plain(60), [west, mid, east], 5600, 50_000)
    const words = ranked.map((r) => `${r.a.name} ${r.b.name}`)
    expect(words[0]).toBe('west middle')
    expect(words.slice(1).sort()).toEqual(['middle east', 'west east'])
    expect(ranked[0]).toMatchObject({ edgesDb: 0 })
    expect(ranked[0]!.share).toBeGreaterThan(0.6)
    expect(ranked[1]!.share).toBeLessThan(0)
    expect(ranked[1]!.edgesDb).toBeGreaterThan(15)
  })
  it('without the wall all are free, and the nearest is the best', () => {
    const ranked = rankPairs(plain(0), [west, mid, east], 5600, 50_000)
    expect(ranked.every((r) => r.edgesDb === 0)).toBe(true)
    expect(ranked[0]!.metres).toBeLessThan(ranked[1]!.metres)
    expect(rankPairs(plain(0), [west, mid, east], 5600, 4000)).toHaveLength(1)
  })
  it('says nothing of what is not in the grid', () => {
    expect(rankPair(plain(0), west, mast('away', -5), 5600)).toBeNull()
    expect(rankPair(plain(0), west, west, 5600)).toBeNull()
  })
  it('reads a list of masts, and names the lines that are none', () => {
    expect(
      readCandidates('Old Mill, 57.91, -6.68, 12\n\nx\nTower; 57.9; -6.6; 30\nY, 99, 0, 3'),
    ).toEqual({
      candidates: [
        { name: 'Old Mill', latitude: 57.91, longitude: -6.68, heightM: 12 },
        { name: 'Tower', latitude: 57.9, longitude: -6.6, heightM: 30 },
      ],
      problems: [expect.stringMatching(/^line 3/), expect.stringMatching(/^line 5/)],
    })
  })
})
