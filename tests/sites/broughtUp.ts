/** A site brought up on the stand-ins by its run sheet, and proven, for the tests of worlds. */
import { expect } from 'vitest'
import { desiredConfiguration } from '@mast/core/adoption'
import { runSheetOf } from '@mast/core/bringup'
import { findingsOf } from '@mast/core/findings'
import { applyEdits, type SitePlan } from '@mast/core/plan'
import { causesOf, countOf, judge, proofTestsOf, type ReportedDevice } from '@mast/core/proof'
import { siteModel } from '@mast/core/topology'
import { filesToGive } from '@mast/core/tunnels'
import { quayside } from './quayside'
import { ControllerDouble, type Wanted } from '../../standins/world/controllerDouble'
import { World } from '../../standins/world/world'

const KEY = 'seagull-on-the-bollard'
const PASSWORD = 'three-fathoms-of-line'

/**
 * With every finding's first button pressed, until there is none. Each mends what it is about and
 * makes nothing new, so that there are no more presses than things to press.
 */
export function mended(plan: SitePlan = quayside()): SitePlan {
  let now = plan
  for (let presses = 0; presses < 60; presses++) {
    const finding = findingsOf(now).find((f) => f.fixes?.length)
    if (!finding) return now
    now = applyEdits(now, finding.fixes![0]!.edits)
  }
  throw new Error(`the buttons come to no end: ${findingsOf(now)[0]!.text}`)
}
/** What a label says, for devices whose label was not read yet. */
export function labelled(plan: SitePlan): SitePlan {
  const model = siteModel(plan)
  const unread = model.devices.filter((d) => model.profileOf(d.id).adoptable && !d.serial)
  return applyEdits(
    plan,
    unread.map((d, i) => ({
      name: 'changeDevice',
      args: {
        id: d.id,
        changes: {
          serial: `AM-SWI-${90_001 + i}`,
          hardwareAddress: `02:4b:48:ff:00:${(16 + i).toString(16)}`,
        },
      },
    })),
  )
}

/** Runs virtual time by hand, as fast as it goes, until something settles. */
export async function until<T>(world: World, promise: Promise<T>): Promise<T> {
  let settled = false
  void promise.finally(() => {
    settled = true
  })
  const limit = world.queue.now + 20_000
  while (!settled && world.queue.now < limit) {
    world.queue.step(limit)
    await Promise.resolve()
    await new Promise((r) => setImmediate(r))
  }
  return promise
}
export async function pass(world: World, seconds: number): Promise<void> {
  const end = world.queue.now + seconds
  const turn = (): Promise<void> => new Promise((r) => setImmediate(r))
  while (world.queue.step(end)) while (world.clock.isHeld) await turn()
  world.queue.now = end
  await turn()
}

export interface BroughtUp {
  readonly world: World
  readonly controller: ControllerDouble
  readonly plan: SitePlan
}

export async function broughtUp(
  plan: SitePlan,
  seed = 7,
  /** Keys of tunnels, by their names in the vault. */
  keys: Readonly<Record<string, string>> = {},
  /** Done where the run sheet asks for a proof. */
  atProof: (site: BroughtUp) => Promise<void> = async () => {},
): Promise<BroughtUp> {
  const model = siteModel(plan)
  const wanted = new Map<string, Wanted>()
  const networks = Object.values(plan.wirelessNetworks).filter((w) => w.keyRef)
  const lines = Object.values(plan.uplinks).filter((u) => u.handOff.passwordRef)
  const secrets = {
    'site-password': 'mussels-on-the-slip-7',
    ...keys,
    ...Object.fromEntries(networks.map((w) => [w.keyRef!, KEY])),
    ...Object.fromEntries(lines.map((u) => [u.handOff.passwordRef!, PASSWORD])),
    ...Object.fromEntries(
      Object.values(plan.bridges).flatMap((b) => [b.a, b.b].map((e) => [e.keyRef, KEY])),
    ),
  }
  for (const d of model.devices)
    if (model.profileOf(d.id).adoptable) {
      const outcome = desiredConfiguration(model, d.id, secrets)
      if (!outcome.ok) throw new Error(outcome.missing.join())
      wanted.set(d.serial!, { ...outcome.desired, firmware: model.firmwareWanted(d.id) })
    }
  const controller = new ControllerDouble(wanted)
  const world = new World(
    {
      plan,
      keys: Object.fromEntries(networks.map((w) => [w.id, KEY])),
      tunnelFiles: filesToGive(model, keys),
      linePasswords: Object.fromEntries(lines.map((u) => [u.id, PASSWORD])),
      seed,
      // A Thursday at midnight.
      epochSeconds: Date.UTC(2026, 0, 1) / 1000,
      revision: 1,
      release: 0,
      keysVersion: 0,
    },
    controller.http,
  )
  for (const step of runSheetOf(model)) {
    if (step.follows?.kind === 'proof') await atProof({ world, controller, plan })
    if (!step.action) {
      await pass(world, step.workSeconds + step.waitSeconds)
      continue
    }
    const configuration =
      step.action.kind === 'page' && step.action.act === 'configuration'
        ? wanted.get(plan.devices[step.action.deviceId]!.serial!)!.configuration
        : undefined
    const reply = await until(
      world,
      world.hand({ ...step.action, ...(configuration ? { configuration } : {}) } as never),
    )
    expect(reply, step.id).toMatchObject({ ok: true })
    await pass(world, step.workSeconds + step.waitSeconds)
  }
  await pass(world, 600)
  return { world, controller, plan }
}

export async function prove({ world, controller, plan }: BroughtUp): Promise<{
  count: ReturnType<typeof countOf>
  causes: ReturnType<typeof causesOf>
  wrong: string[]
  results: ReturnType<typeof judge>
}> {
  const model = siteModel(plan)
  const tests = proofTestsOf(model)
  const observations = await until(world, world.probe(tests.flatMap((t) => t.probe ?? [])))
  await pass(world, 120)
  const lamps = world.snapshot().devices
  const devices = model.devices
    .filter((d) => model.profileOf(d.id).adoptable)
    .map((d): ReportedDevice => {
      const report = controller.reports.get(d.serial!)
      const lamp = lamps.find((x) => x.id === d.id)!
      return {
        deviceId: d.id,
        state:
          lamp.light !== 'in-service' || lamp.serial !== d.serial
            ? 'lost'
            : report?.changedHere
              ? 'drifted'
              : 'in-service',
        ports: report?.ports ?? [],
        lines: report?.lines ?? [],
      }
    })
  const known = new Set(model.devices.map((d) => d.serial))
  const foreign = [...controller.heard]
    .filter(([serial]) => !known.has(serial))
    .map(([serial, h]) => ({ serial, hardwareAddress: h.hardwareAddress, model: '' }))
  const results = judge(
    tests,
    observations,
    Object.fromEntries(devices.map((d) => [d.deviceId, d.state])),
  )
  return {
    results,
    count: countOf(results),
    causes: causesOf(model, results, { devices, foreign }),
    wrong: results
      .filter((r) => r.verdict !== 'as-planned')
      .map((r) => `${r.test.title}: ${r.observed}`),
  }
}
