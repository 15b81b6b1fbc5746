import { describe, expect, it } from 'vitest'
import { controllerUrl, desiredConfiguration } from '@mast/core/adoption'
import { runSheetOf } from '@mast/core/bringup'
import { findingsOf } from '@mast/core/findings'
import { applyEdits, type SitePlan } from '@mast/core/plan'
import { causesOf, countOf, judge, proofTestsOf, type ReportedDevice } from '@mast/core/proof'
import { siteModel } from '@mast/core/topology'
import { quayside } from '../../tests/sites/quayside'
import type { Fault } from '../control/messages'
import { ControllerDouble, type Wanted } from './controllerDouble'
import { World } from './world'

const KEY = 'seagull-on-the-bollard'

function mended(): SitePlan {
  let plan = quayside()
  for (let f = findingsOf(plan)[0]; f; f = findingsOf(plan)[0]) plan = applyEdits(plan, f.fixes![0]!.edits)
  return plan
}

/** Runs virtual time by hand, as fast as it goes, until something settles. */
async function until<T>(world: World, promise: Promise<T>): Promise<T> {
  let settled = false
  void promise.finally(() => { settled = true })
  const limit = world.queue.now + 20_000
  while (!settled && world.queue.now < limit) {
    world.queue.step(limit)
    await Promise.resolve()
    await new Promise((r) => setImmediate(r))
  }
  return promise
}
async function pass(world: World, seconds: number): Promise<void> {
  const end = world.queue.now + seconds
  while (world.queue.step(end)) if (world.queue.size % 8 === 0) await new Promise((r) => setImmediate(r))
  world.queue.now = end
  await new Promise((r) => setImmediate(r))
}

async function broughtUp(plan: SitePlan, seed = 7): Promise<{ world: World; controller: ControllerDouble; plan: SitePlan }> {
  const model = siteModel(plan)
  const wanted = new Map<string, Wanted>()
  for (const d of model.devices)
    if (model.profileOf(d.id).adoptable) {
      const outcome = desiredConfiguration(model, d.id, { 'wifi-visitor-wifi': KEY })
      if (!outcome.ok) throw new Error(outcome.missing.join())
      wanted.set(d.serial!, { ...outcome.desired, firmware: model.profileOf(d.id).firmware.wanted })
    }
  const controller = new ControllerDouble(wanted)
  const world = new World({ plan, keys: { 'visitor-wifi': KEY }, linePasswords: {}, seed, revision: 1, keysVersion: 0 }, controller.http)
  for (const step of runSheetOf(model)) {
    if (!step.action) { await pass(world, step.workSeconds + step.waitSeconds); continue }
    const configuration = step.action.kind === 'page' && step.action.act === 'configuration' ? wanted.get(plan.devices[step.action.deviceId]!.serial!)!.configuration : undefined
    const reply = await until(world, world.hand({ ...step.action, ...(configuration ? { configuration } : {}) } as never))
    expect(reply, step.id).toMatchObject({ ok: true })
    await pass(world, step.workSeconds + step.waitSeconds)
  }
  await pass(world, 600)
  return { world, controller, plan }
}

async function prove({ world, controller, plan }: Awaited<ReturnType<typeof broughtUp>>): Promise<{ count: ReturnType<typeof countOf>; causes: ReturnType<typeof causesOf>; wrong: string[] }> {
  const model = siteModel(plan)
  const tests = proofTestsOf(model)
  const observations = await until(world, world.probe(tests.flatMap((t) => t.probe ?? [])))
  await pass(world, 120)
  const lamps = world.snapshot().devices
  const devices = model.devices.filter((d) => model.profileOf(d.id).adoptable).map((d): ReportedDevice => {
    const report = controller.reports.get(d.serial!)
    const lamp = lamps.find((x) => x.id === d.id)!
    return { deviceId: d.id, state: lamp.light === 'in-service' && lamp.serial === d.serial ? 'in-service' : 'lost', ports: report?.ports ?? [], line: report?.line ?? null }
  })
  const known = new Set(model.devices.map((d) => d.serial))
  const foreign = [...controller.heard].filter(([serial]) => !known.has(serial)).map(([serial, h]) => ({ serial, hardwareAddress: h.hardwareAddress, model: '' }))
  const results = judge(tests, observations, Object.fromEntries(devices.map((d) => [d.deviceId, d.state])))
  return { count: countOf(results), causes: causesOf(model, results, { devices, foreign }), wrong: results.filter((r) => r.verdict !== 'as-planned').map((r) => `${r.test.title}: ${r.observed}`) }
}

describe('a site on the stand-ins', () => {
  it('comes up by the run sheet and proves as planned', async () => {
    const up = await broughtUp(mended())
    const { wrong, count } = await prove(up)
    expect(wrong).toEqual([])
    expect(count.proven).toBe(true)
  })

  it('runs the same with the same seed, otherwise with another', async () => {
    const frames = async (seed: number): Promise<number> => (await broughtUp(mended(), seed)).world.snapshot().frames
    const [a, b, c] = [await frames(3), await frames(3), await frames(4)]
    expect(a).toBe(b)
    expect(c).not.toBe(a)
  })

  const faults: [Fault, string, RegExp][] = [
    [{ kind: 'dead-line' }, 'dead-line', /is dead/],
    [{ kind: 'wrong-hand-off-tag', vlan: 7 }, 'hand-off', /tag on the hand-off/],
    [{ kind: 'missing-tag', portId: 'switch.2', vlan: 90 }, 'missing-tag', /VLAN 90 Visitors has no tag between Cupboard switch port 2 and Quay AP port eth0/],
    [{ kind: 'swapped-cables', portIds: ['switch.4', 'switch.5'] }, 'swapped-cables', /Gate camera and Harbour office desk are exchanged/],
    [{ kind: 'mistyped-serial', deviceId: 'quay-ap' }, 'mistyped-serial', /Quay AP was mistyped/],
  ]
  it.each(faults)('names the cause of %o', async (fault, kind, text) => {
    const up = await broughtUp(mended())
    expect(up.world.setFault(fault, true).ok).toBe(true)
    await pass(up.world, 400)
    const { causes, count } = await prove(up)
    expect(count.proven).toBe(false)
    expect(causes[0]).toMatchObject({ kind })
    expect(causes[0]!.text).toMatch(text)
    up.world.setFault(fault, false)
    await pass(up.world, 600)
    expect((await prove(up)).wrong).toEqual([])
  })

  it('puts a saved world back with its memory, its faults and its cables', async () => {
    const up = await broughtUp(mended())
    up.world.setFault({ kind: 'dead-line' }, true)
    const saved = JSON.parse(JSON.stringify(up.world.save()))
    const again = new World(saved.description, up.controller.http)
    again.restore(saved)
    const next = { ...up, world: again }
    await pass(again, 900)
    expect((await prove(next)).causes.map((c) => c.kind)).toEqual(['dead-line'])
    again.setFault({ kind: 'dead-line' }, false)
    await pass(again, 100)
    expect((await prove(next)).wrong).toEqual([])
  })

  it('gives devices the exact controller address', () => {
    expect(controllerUrl(siteModel(mended()))).toBe('http://10.20.10.2:8043')
  })
})
