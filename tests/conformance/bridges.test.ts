/**
 * Bridges against the outside world: geodesics by the reference program and the test set of its
 * author, tiles by Python, and the stand-ins, which work out levels by other means.
 */
import { execFileSync, spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Aiming, declinationDegrees, isReckoned, reckon } from '@mast/core/bridges'
import { readGround } from '@mast/core/bridges/terrain'
import type { Obstacle, SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { between } from '../../core/bridges/geodesy/between'
import { spreadDb } from '../../core/bridges/spread'
import { heightAt, isProblem, readHgt } from '../../core/bridges/terrain/tile'
import { World } from '../../standins/world/world'
import { chanceOf } from '@mast/core/generator'
import { soundSite, type SoundGiven } from '../sites/sound'

describe('geodesics', () => {
  it('the documented example of the library: 40.6 -73.8 to 51.6 -0.5', () => {
    const way = between({ latitude: 40.6, longitude: -73.8 }, { latitude: 51.6, longitude: -0.5 })
    expect(way.fromADegrees).toBeCloseTo(51.198883, 5)
    expect(way.metres).toBeCloseTo(5_551_759.4, 2)
  })
  it('the test cases that the library comes with (C. F. F. Karney, GeographicLib)', () => {
    // lat1 lon1 azi1 lat2 lon2 azi2 s12 ...
    for (const [lat1, lon1, azi1, lat2, lon2, azi2, s12] of [
      // Rows of its table of twenty, from memory.
      [
        35.60777, -139.44815, 111.09874842956, -11.17491, -69.95921, 129.28927088971,
        8935244.5604818,
      ],
      [55.52454, 106.05087, 22.020059880983, 77.03196, 197.18234, 109.11204111067, 4105086.1713924],
      [
        -21.97856, 142.59065, -32.444568764332, 41.84138, 98.56635, -41.843599514405,
        8394328.8946577,
      ],
    ] as const) {
      const way = between({ latitude: lat1, longitude: lon1 }, { latitude: lat2, longitude: lon2 })
      const turn = (d: number): number => ((d % 360) + 360) % 360
      expect(way.metres).toBeCloseTo(s12, 4)
      expect(way.fromADegrees).toBeCloseTo(turn(azi1), 9)
      expect(way.fromBDegrees).toBeCloseTo(turn(azi2 + 180), 9)
    }
  })
  it('agrees with GeodSolve of Debian on random pairs, near and far', () => {
    const chance = chanceOf(17)
    const pairs = Array.from({ length: 400 }, (_, n) => {
      const a = { latitude: chance.between(-89, 89), longitude: chance.between(-180, 180) }
      const near = n % 2 === 0
      const b = near
        ? {
            latitude: Math.max(-90, Math.min(90, a.latitude + chance.between(-3, 3) / 10)),
            longitude: a.longitude + chance.between(-5, 5) / 10,
          }
        : { latitude: chance.between(-90, 90), longitude: chance.between(-180, 180) }
      return [a, b] as const
    }).filter(([a, b]) => a.latitude !== b.latitude || a.longitude !== b.longitude)
    const out = execFileSync('GeodSolve', ['-i', '-p', '6'], {
      input: pairs
        .map(([a, b]) => `${a.latitude} ${a.longitude} ${b.latitude} ${b.longitude}`)
        .join('\n'),
      encoding: 'utf8',
    })
    const turn = (d: number): number => ((d % 360) + 360) % 360
    out
      .trim()
      .split('\n')
      .forEach((line, n) => {
        const [azi1, azi2, s12] = line.split(/\s+/).map(Number) as [number, number, number]
        const way = between(...pairs[n]!)
        expect(way.metres).toBeCloseTo(s12, 4)
        const apart = (x: number, y: number): number => Math.abs(turn(x - y + 180) - 180)
        expect(apart(way.fromADegrees, azi1)).toBeLessThan(1e-6)
        expect(apart(way.fromBDegrees, azi2 + 180)).toBeLessThan(1e-6)
      })
  })
  it('the needle: values that are printed with the World Magnetic Model 2025', () => {
    // Test values of the model at 2025.0 and sea level (from memory): 80 N 0 E, 0 N 120 E, 80 S 240 E.
    const day = new Date('2025-01-01')
    expect(declinationDegrees({ latitude: 80, longitude: 0 }, day)).toBeCloseTo(1.28, 1)
    expect(declinationDegrees({ latitude: 0, longitude: 120 }, day)).toBeCloseTo(-0.16, 1)
    expect(declinationDegrees({ latitude: -80, longitude: 240 }, day)).toBeCloseTo(68.78, 1)
    expect(declinationDegrees({ latitude: 50, longitude: 0 }, new Date('2031-01-01'))).toBeNull()
    expect(declinationDegrees({ latitude: 86, longitude: 145 }, day)).toBeNull()
  })
})

/** A tile as such tiles are: 1201 cells a side, hills out of sines, one void. */
function tile(): Uint8Array {
  const side = 1201
  const octets = new Uint8Array(side * side * 2)
  const view = new DataView(octets.buffer)
  for (let row = 0; row < side; row++)
    for (let column = 0; column < side; column++)
      view.setInt16(
        2 * (row * side + column),
        Math.round(120 + 90 * Math.sin(row / 37) * Math.cos(column / 23) + (row % 7)),
      )
  view.setInt16(2 * (5 * side + 5), -32_768)
  return octets
}
const python = `
import json, struct, sys
name, path = sys.argv[1], json.load(sys.stdin)
data = open(name, 'rb').read()
side = 1201
def cell(r, c): return struct.unpack('>h', data[2 * (r * side + c):2 * (r * side + c) + 2])[0]
out = []
for lat, lon in path:
    x, y = (lon + 7) * (side - 1), (58 - lat) * (side - 1)
    c, r = min(int(x), side - 2), min(int(y), side - 2)
    u, v = x - c, y - r
    top = (1 - u) * cell(r, c) + u * cell(r, c + 1)
    low = (1 - u) * cell(r + 1, c) + u * cell(r + 1, c + 1)
    out.append((1 - v) * top + v * low)
json.dump(out, sys.stdout)
`

describe('tiles of heights', () => {
  const octets = tile()
  it('are read back between their cells as Python does it', () => {
    const grid = readHgt('N57W007.hgt', octets)
    if (isProblem(grid)) throw new Error(grid.problem)
    const chance = chanceOf(4)
    const path = Array.from({ length: 300 }, () => [
      57 + chance.between(50, 950) / 1000 + chance.between(0, 99) / 1e5,
      -7 + chance.between(50, 950) / 1000 + chance.between(0, 99) / 1e5,
    ])
    const folder = mkdtempSync(join(tmpdir(), 'mast-tile-'))
    const file = join(folder, 'N57W007.hgt')
    writeFileSync(file, octets)
    const ran = spawnSync('python3', ['-c', python, file], {
      input: JSON.stringify(path),
      encoding: 'utf8',
    })
    expect(ran.stderr).toBe('')
    const theirs = JSON.parse(ran.stdout) as number[]
    path.forEach(([latitude, longitude], n) =>
      expect(heightAt(grid, latitude!, longitude!)).toBeCloseTo(theirs[n]!, 6),
    )
    rmSync(folder, { recursive: true })
  })
  it('give the ground along a path, with what is missing said', async () => {
    const a = { latitude: 57.9, longitude: -6.7 }
    const b = { latitude: 57.87, longitude: -6.65 }
    const read = await readGround('N57W007.hgt', octets, a, b)
    if ('problem' in read) throw new Error(read.problem)
    expect(read.problems).toEqual([])
    expect(read.ground[0]!.atM).toBe(0)
    expect(read.ground.at(-1)!.atM).toBeCloseTo(between(a, b).metres, 0)
    const beyond = await readGround('N57W007.hgt', octets, a, { latitude: 58.02, longitude: -6.65 })
    expect(beyond).toMatchObject({
      problems: [expect.stringMatching(/^\d+ of \d+ points are not in it/)],
    })
    expect(await readGround('N10E010.hgt', octets, a, b)).toMatchObject({
      problem: expect.stringMatching(/^the path is not in it/),
    })
  })
})

const obstacle = (name: string, atM: number, topM: number): Obstacle => ({
  name,
  kind: 'building',
  atM,
  lengthM: 0,
  topM,
  growsM: 0,
  measuredOn: null,
})

/** A path out of a seed: a short one at 60 GHz, or one of some kilometres at 5 GHz. */
function soundOf(seed: number): SoundGiven {
  const chance = chanceOf(seed)
  const isShort = seed % 3 === 0
  const metres = isShort ? chance.between(120, 900) : chance.between(800, 12_000)
  const [heightAM, heightBM] = [chance.between(8, 40), chance.between(8, 40)]
  const count = chance.between(0, 2)
  return {
    profileId: isShort ? 'bridge-60ghz' : 'bridge-5ghz-dish',
    channel: isShort ? 2 : 112,
    widthMhz: isShort ? 2160 : 40,
    metres,
    degrees: chance.between(0, 359),
    heightAM,
    heightBM,
    ground: [0, 0.2, 0.5, 0.8, 1].map((share) => ({
      atM: Math.round(share * metres),
      heightM: chance.between(0, 6),
    })),
    obstacles: Array.from({ length: count }, (_, n) =>
      obstacle(
        `Shed ${n}`,
        Math.round((metres * (n + 1)) / (count + 1)),
        chance.between(2, Math.min(heightAM, heightBM) + 6),
      ),
    ),
  }
}
const worldOf = (plan: SitePlan, seed: number): World => {
  const world = new World(
    { plan, keys: {}, linePasswords: {}, seed, revision: 1, release: 0, keysVersion: 0 },
    () => Promise.resolve(null),
  )
  void world.hand({ kind: 'power', deviceIds: ['shore-radio', 'island-radio'], on: true })
  return world
}

describe('bridges on the stand-ins', () => {
  it('levels and rates are those of the analysis, within the spread that it states, on 200 paths', () => {
    let obstructed = 0
    let up = 0
    for (let seed = 1; seed <= 200; seed++) {
      const plan = soundSite(soundOf(seed))
      const r = reckon(siteModel(plan), plan.bridges.sound!, new Date(0))
      if (!isReckoned(r)) throw new Error(r.missing.join())
      const now = worldOf(plan, seed).bridges.now('sound')!
      const spread = spreadDb(r.budget)
      if (r.budget.losses.edges.totalDb > 0) obstructed++
      const words = `seed ${seed}, edges ${r.budget.losses.edges.totalDb.toFixed(1)} dB`
      expect(Math.abs(now.atB! - r.budget.toB.levelDbm), words).toBeLessThan(spread)
      expect(Math.abs(now.atA! - r.budget.toA.levelDbm), words).toBeLessThan(spread)
      const { steps } = r.budget.toB
      const rate = (dbm: number): number => steps.findLast((s) => dbm >= s.leastDbm)?.mbps ?? 0
      if (now.isUp) {
        up++
        expect(now.toB).toBeGreaterThanOrEqual(rate(r.budget.toB.levelDbm - spread))
        expect(now.toB).toBeLessThanOrEqual(rate(r.budget.toB.levelDbm + spread))
      } else
        // Not up only where one of both directions may have too little.
        expect(
          Math.min(rate(r.budget.toB.levelDbm - spread), rate(r.budget.toA.levelDbm - spread)),
          words,
        ).toBe(0)
    }
    expect(obstructed).toBeGreaterThan(40)
    expect(up).toBeGreaterThan(100)
  })

  it('a blind aim by the advice of the helper finds the beam, on 100 random starts', async () => {
    const given = { ...soundOf(1), metres: 3400, obstacles: [], heightAM: 20, heightBM: 25 }
    const plan = soundSite({ ...given, profileId: 'bridge-5ghz-dish', channel: 112, widthMhz: 40 })
    const r = reckon(siteModel(plan), plan.bridges.sound!, new Date(0))
    if (!isReckoned(r)) throw new Error(r.missing.join())
    const { antenna } = r.budget.facts.a
    for (let seed = 1; seed <= 100; seed++) {
      const world = worldOf(plan, seed)
      const chance = chanceOf(seed)
      const off = { across: chance.between(-160, 160) / 10, up: chance.between(-80, 80) / 10 }
      const aiming = new Aiming({
        antenna,
        expectedDbm: r.budget.toA.levelDbm,
        floorDbm: -95,
        startOffDegrees: 18,
      })
      const readAt = async (to: { across: number; up: number }): Promise<number> => {
        const { readings } = await world.hand({
          kind: 'turn',
          deviceId: 'shore-radio',
          across: to.across + off.across,
          up: to.up + off.up,
        })
        return Math.max(-95, Math.round(readings![0]!.dbm!))
      }
      let end = aiming.advice()
      for (let n = 0; n < 3000 && end.kind === 'turn'; n++) {
        aiming.read({ ...end.to, dbm: await readAt(end.to) })
        end = aiming.advice()
      }
      expect(end, `seed ${seed}`).toMatchObject({ kind: 'done', isSideLobe: false })
      if (end.kind !== 'done') continue
      const left = Math.hypot(end.best.across + off.across, end.best.up + off.up)
      // Within what costs 3 dB.
      expect(left, `seed ${seed}`).toBeLessThan(antenna.widthDegrees / 2)
    }
  })

  it('stopped on a side lobe, the helper names it', async () => {
    const plan = soundSite({
      ...soundOf(2),
      metres: 3400,
      obstacles: [],
      heightAM: 20,
      heightBM: 25,
    })
    const r = reckon(siteModel(plan), plan.bridges.sound!, new Date(0))
    if (!isReckoned(r)) throw new Error(r.missing.join())
    const world = worldOf(plan, 5)
    // Swept no wider than the side lobe itself, some 12.7 degrees beside the beam.
    const aiming = new Aiming({
      antenna: { ...r.budget.facts.a.antenna, widthDegrees: 1, heightDegrees: 1 },
      expectedDbm: r.budget.toA.levelDbm,
      floorDbm: -95,
      startOffDegrees: 1,
    })
    let end = aiming.advice()
    for (let n = 0; n < 3000 && end.kind === 'turn'; n++) {
      const { readings } = await world.hand({
        kind: 'turn',
        deviceId: 'shore-radio',
        across: end.to.across + 12.7,
        up: end.to.up,
      })
      aiming.read({ ...end.to, dbm: readings![0]!.dbm! })
      end = aiming.advice()
    }
    expect(end).toMatchObject({ kind: 'done', isSideLobe: true })
  })

  it('do not pair on another channel or in the same role, and say so', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 50 }), (seed) => {
        const plan = soundSite({ ...soundOf(3 * seed + 1), obstacles: [] })
        const world = worldOf(plan, seed)
        expect(world.bridges.now('sound')!.isUp).toBe(true)
        const put = (fault: Parameters<World['setFault']>[0], why: RegExp): void => {
          world.setFault(fault, true)
          expect(world.bridges.now('sound')).toMatchObject({
            isUp: false,
            why: expect.stringMatching(why),
          })
          world.setFault(fault, false)
          expect(world.bridges.now('sound')!.isUp).toBe(true)
        }
        put(
          { kind: 'bridge-channel', bridgeId: 'sound', end: 'b', channel: 120 },
          /different channels/,
        )
        put({ kind: 'both-main', bridgeId: 'sound' }, /same role/)
      }),
      { numRuns: 5 },
    )
  })

  it('rain, side lobes and grown trees take what they take of a real one', () => {
    const trees: Obstacle = { ...obstacle('Larches', 300, 8), kind: 'trees' }
    const plan = soundSite({
      ...soundOf(3),
      profileId: 'bridge-60ghz',
      channel: 2,
      widthMhz: 2160,
      metres: 600,
      ground: [],
      heightAM: 15,
      heightBM: 15,
      obstacles: [trees],
    })
    const world = worldOf(plan, 9)
    const before = world.bridges.now('sound')!.atB!
    const taken = (fault: Parameters<World['setFault']>[0]): number => {
      world.setFault(fault, true)
      const now = world.bridges.now('sound')!.atB!
      world.setFault(fault, false)
      return before - now
    }
    // About 20 dB/km at 80 mm/h (the curves of ITU-R P.838).
    expect(taken({ kind: 'cloudburst', bridgeId: 'sound', rainMmH: 80 })).toBeGreaterThan(9)
    expect(
      taken({ kind: 'misaimed', bridgeId: 'sound', end: 'b', degrees: 2.4 * 1.59 }),
    ).toBeGreaterThan(15)
    expect(taken({ kind: 'grown-trees', bridgeId: 'sound', metres: 9 })).toBeGreaterThan(15)
    expect(taken({ kind: 'grown-trees', bridgeId: 'sound', metres: 1 })).toBeCloseTo(0, 0)
  })
})
