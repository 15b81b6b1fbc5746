import { describe, expect, it } from 'vitest'
import { applyEdits, editCall as edit, type SitePlan } from '@mast/core/plan'
import type { Probe } from '@mast/protocol'
import { causesOf, judge, proofTestsOf } from '../../core/proof'
import { siteModel } from '../../core/topology'
import { soundSite } from '../../tests/sites/sound'
import type { Fault } from '../faults'
import { World } from './world'

const site = (): SitePlan =>
  soundSite({
    profileId: 'bridge-5ghz-dish',
    channel: 112,
    widthMhz: 40,
    metres: 3400,
    degrees: 70,
    heightAM: 20,
    heightBM: 25,
    ground: [],
    obstacles: [],
    end: { polarisation: 'vertical' },
  })
const worldOf = (plan: SitePlan): World => {
  const world = new World(
    { plan, keys: {}, linePasswords: {}, seed: 3, revision: 1, release: 0, keysVersion: 0 },
    () => Promise.resolve(null),
  )
  void world.hand({ kind: 'power', deviceIds: ['shore-radio', 'island-radio'], on: true })
  return world
}
const settle = async <T>(world: World, promise: Promise<T>): Promise<T> => {
  let isDone = false
  void promise.finally(() => {
    isDone = true
  })
  for (let n = 0; n < 1000 && !isDone; n++) {
    world.queue.step(world.queue.now + 100)
    await new Promise((r) => setImmediate(r))
  }
  return promise
}

/** What the proof says, and the first cause that it names. */
async function proof(plan: SitePlan, world: World) {
  const model = siteModel(plan)
  const tests = proofTestsOf(model).filter((t) => t.kind === 'bridge')
  const probes = tests.map((t) => t.probe!) as Probe[]
  const observations = await settle(world, world.probe(probes))
  const results = judge(tests, observations, {})
  return {
    results,
    cause: causesOf(model, results, { devices: [], foreign: [] })[0],
  }
}

describe('a bridge of the stand-ins', () => {
  it('reads what is planned at both ends, and the proof says so', async () => {
    const { results, cause } = await proof(site(), worldOf(site()))
    expect(results.map((r) => r.verdict)).toEqual(['as-planned', 'as-planned'])
    expect(cause).toBeUndefined()
  })
  it.each<[Fault, string, RegExp]>([
    [
      { kind: 'misaimed', bridgeId: 'sound', end: 'b', degrees: 12.7 },
      'bridge-side-lobe',
      /a side lobe/,
    ],
    [{ kind: 'turned-dish', bridgeId: 'sound', end: 'b' }, 'bridge-polarisation', /polarisation/],
    [
      { kind: 'bridge-channel', bridgeId: 'sound', end: 'b', channel: 120 },
      'bridge-silent',
      /do not hear/,
    ],
    [{ kind: 'both-main', bridgeId: 'sound' }, 'bridge-not-paired', /not set alike/],
  ])('%o is named by the proof, and gone when it is taken out', async (fault, kind, text) => {
    const plan = site()
    const world = worldOf(plan)
    world.setFault(fault, true)
    const { results, cause } = await proof(plan, world)
    expect(results.some((r) => r.verdict === 'contradicts')).toBe(true)
    expect(cause).toMatchObject({ kind, text: expect.stringMatching(text) })
    expect(cause!.checks.length).toBeGreaterThan(2)
    world.setFault(fault, false)
    expect((await proof(plan, world)).results.every((r) => r.verdict === 'as-planned')).toBe(true)
  })
  it('rain and grown trees are among what the proof says to look at, with how much of them it takes', async () => {
    const wet = soundSite({
      profileId: 'bridge-60ghz',
      channel: 2,
      widthMhz: 2160,
      metres: 420,
      degrees: 70,
      heightAM: 12,
      heightBM: 12,
      ground: [],
      obstacles: [],
    })
    const rainy = worldOf(wet)
    rainy.setFault({ kind: 'cloudburst', bridgeId: 'sound', rainMmH: 120 }, true)
    const { cause } = await proof(wet, rainy)
    const told = cause!.checks.find((c) => c.startsWith('Weather'))!
    const mmH = Number(/rain of (\d+) mm/.exec(told)![1])
    expect(mmH).toBeGreaterThan(70)
    expect(mmH).toBeLessThan(180)

    const wooded = soundSite({
      profileId: 'bridge-5ghz-dish',
      channel: 112,
      widthMhz: 40,
      metres: 3400,
      degrees: 70,
      heightAM: 20,
      heightBM: 25,
      ground: [],
      obstacles: [
        {
          name: 'The copse',
          kind: 'trees',
          atM: 1500,
          lengthM: 200,
          topM: 12,
          growsM: 0.4,
          measuredOn: '2026-05-02',
        },
      ],
    })
    const grown = worldOf(wooded)
    expect((await proof(wooded, grown)).cause).toBeUndefined()
    grown.setFault({ kind: 'grown-trees', bridgeId: 'sound', metres: 14 }, true)
    const found = await proof(wooded, grown)
    expect(found.cause!.checks).toContain('The copse: 12 m high on 2026-05-02; measure them anew.')
  })
  it('has no signal while an end has no power, and shows role and channel where it can', () => {
    const plan = soundSite({
      profileId: 'bridge-hand-pair',
      channel: 4,
      widthMhz: 20,
      metres: 150,
      degrees: 10,
      heightAM: 6,
      heightBM: 6,
      ground: [],
      obstacles: [],
    })
    const world = worldOf(plan)
    expect(world.bridges.now('sound')).toMatchObject({ isUp: true, shows: { a: 'M4', b: 'F4' } })
    void world.hand({ kind: 'power', deviceIds: ['island-radio'], on: false })
    expect(world.bridges.now('sound')).toMatchObject({ isUp: false, atA: null })
  })
  it('a distance that is too short leaves next to nothing of the speed', () => {
    const plan = site()
    const before = worldOf(plan).bridges.now('sound')!.toB
    const short = applyEdits(plan, [
      edit('changeBridge', {
        id: 'sound',
        changes: { b: { ...plan.bridges.sound!.b, distance: 8 } },
      }),
    ])
    expect(worldOf(short).bridges.now('sound')!.toB).toBeCloseTo(before * 0.05, 6)
  })
  it('lets frames through one after the other, at its speed, and drops what would wait too long', () => {
    const world = worldOf(site())
    const out = world.boxes.get('shore-radio')!.sockets.get('air')!
    const into = world.boxes.get('island-radio')!.sockets.get('air')!
    let got = 0
    let last = 0
    into.onFrame = () => {
      got++
      last = world.queue.now
    }
    const began = world.queue.now
    const sent = 5000
    const octets = 1500
    for (let n = 0; n < sent; n++)
      out.send({
        from: '02:00:00:00:00:01',
        to: '02:00:00:00:00:02',
        tag: null,
        payload: {
          kind: 'ipv4',
          src: 1,
          dst: 2,
          ttl: 64,
          body: { protocol: 'icmp', type: 'echo', id: n, octets },
        },
      })
    while (world.queue.step(began + 10));
    // 216 Mbit/s on the air, of which 0.7 are data and half of that is this direction's.
    const mbps = world.bridges.now('sound')!.toB * 0.7 * 0.5
    expect(got).toBeLessThan(sent)
    expect((got * (octets + 18) * 8) / (last - began) / 1e6).toBeCloseTo(mbps, -1)
  })
  it('of which the plan says nothing any more passes as a cable does', () => {
    const plan = site()
    const silent = applyEdits(plan, [
      edit('changeBridge', {
        id: 'sound',
        changes: { b: { ...plan.bridges.sound!.b, channel: 120 } },
      }),
    ])
    const world = worldOf(silent)
    const socket = world.boxes.get('shore-radio')!.sockets.get('air')!
    expect(socket.up).toBe(false)
    world.update({
      plan: applyEdits(silent, [edit('removeBridge', { id: 'sound' })]),
      ...{ keys: {}, linePasswords: {}, seed: 3, revision: 2, release: 0, keysVersion: 0 },
    })
    expect(socket.up).toBe(true)
  })
  it('antennas stay as they were turned, over a restart', () => {
    const plan = site()
    const world = worldOf(plan)
    void world.hand({ kind: 'turn', deviceId: 'shore-radio', across: 5, up: 0 })
    const turned = world.bridges.now('sound')!.atA!
    const again = worldOf(plan)
    again.restore(world.save())
    expect(again.bridges.now('sound')!.atA).toBeCloseTo(turned, 9)
  })
})
