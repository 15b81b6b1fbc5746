/**
 * The analysis against the stand-ins: on random sites the verdict that the plan implies and what
 * happens to real frames agree for every pair of
 * hosts and every service. The two share no logic; where they differ, one of them is wrong. Half of
 * the sites have mistakes in their wiring.
 */
import { describe, expect, it } from 'vitest'
import { desiredConfiguration } from '@mast/core/adoption'
import { trace, type Endpoint } from '@mast/core/forwarding'
import { chanceOf, randomSite, smallShape } from '@mast/core/generator'
import { tellingPorts, weekMinuteAt, type SitePlan } from '@mast/core/plan'
import { matrixOf } from '@mast/core/policy'
import { siteModel } from '@mast/core/topology'
import { judge, proofTestsOf } from '@mast/core/proof'
import type { Observation, Probe } from '@mast/protocol'
import { Appliance } from '../../../standins/devices/appliance'
import { World } from '../../../standins/world/world'
import { flowsOf, hostsOf, type Flow } from './flows'

/** Other seeds and numbers can be had by the environment. */
const SITES = Number(process.env.MAST_JUDGED_SITES ?? 500)
const FIRST_SEED = Number(process.env.MAST_JUDGED_FROM ?? 1)
const BATCH = 20
/** Sites that are proven whole. */
const PROVEN = Number(process.env.MAST_PROVEN_SITES ?? 30)
const KEY = 'rope-over-the-bollard'
const START_SECONDS = 900

/**
 * A world in which every device has its configuration already; how it gets it is another test's
 * matter.
 */
function standing(plan: SitePlan, seed: number): World {
  const model = siteModel(plan)
  const secrets = Object.fromEntries(
    Object.values(plan.wirelessNetworks).flatMap((w) => (w.keyRef ? [[w.keyRef, KEY]] : [])),
  )
  const world = new World(
    {
      plan,
      keys: Object.fromEntries(
        Object.values(plan.wirelessNetworks)
          .filter((w) => w.keyRef)
          .map((w) => [w.id, KEY]),
      ),
      linePasswords: {},
      seed,
      epochSeconds: epochOf(seed),
      revision: 1,
      release: 0,
      keysVersion: 0,
    },
    async () => null,
  )
  for (const [id, box] of world.boxes)
    if (box instanceof Appliance) {
      const outcome = desiredConfiguration(model, id, secrets)
      if (!outcome.ok) throw new Error(`${id}: ${outcome.missing.join()}`)
      Object.assign(box.flash, {
        configuration: outcome.desired.configuration,
        digest: outcome.desired.digest,
      })
    }
  return world
}

/**
 * Some hour of a week, five minutes past: hours of intents begin and end on the hour, and the
 * questions are asked half an hour later.
 */
const epochOf = (seed: number): number =>
  1_790_000_100 - (1_790_000_100 % 3600) + ((seed * 37) % 168) * 3600 + 300

async function ask(world: World, probes: readonly Probe[]): Promise<Observation[]> {
  const asked = world.probe([...probes])
  let answered = false
  void asked.then(() => {
    answered = true
  })
  while (!answered) {
    pass(world, 30)
    await new Promise((r) => setImmediate(r))
  }
  return asked
}

/** With everything plugged in and switched on. */
async function running(plan: SitePlan, seed: number): Promise<World> {
  const world = standing(plan, seed)
  const ids = (kinds: readonly string[]): string[] =>
    Object.values(plan.devices)
      .filter((d) => kinds.includes(plan.profiles[d.profileId]!.kind))
      .map((d) => d.id)
  await world.hand({ kind: 'plug', deviceIds: ids(['gateway', 'switch', 'access-point']) })
  for (const lineId of Object.keys(plan.uplinks)) await world.hand({ kind: 'plug-line', lineId })
  pass(world, START_SECONDS)
  await world.hand({ kind: 'power', deviceIds: ids(['host']), on: true })
  pass(world, START_SECONDS)
  return world
}

async function observe(
  plan: SitePlan,
  seed: number,
  flows: readonly Flow[],
): Promise<Map<string, boolean>> {
  const world = await running(plan, seed)
  const probes = flows.flatMap(({ id, from, to, service, forwardId }): Probe[] => {
    const target: Probe['target'] = forwardId
      ? { kind: 'line' }
      : to === 'internet'
        ? { kind: 'internet' }
        : { kind: 'host', deviceId: to.id }
    const base = {
      from: from === 'internet' ? from : from.id,
      target,
      kind: service.protocol === 'icmp' ? ('ping' as const) : (service.protocol as 'tcp' | 'udp'),
    }
    return tellingPorts(service.ports, [])
      .map((port): number | null => port)
      .concat(service.ports.length === 0 ? [null] : [])
      .map((port) => ({ ...base, id: `${id}:${port}`, port }))
  })
  const works = new Map<string, boolean>()
  for (const o of await ask(world, probes)) {
    const flow = o.id.slice(0, o.id.lastIndexOf(':'))
    // A refusal comes from the host itself: the connection got there.
    const arrived = o.outcome === 'works' || o.outcome === 'refused'
    works.set(flow, (works.get(flow) ?? true) && arrived)
  }
  return works
}
function pass(world: World, seconds: number): void {
  const end = world.queue.now + seconds
  while (world.queue.step(end)) {
    /* until then */
  }
  world.queue.now = end
}

/**
 * The internet's host answers pings and the web; to other services of it nobody can say more than
 * that the rules let them out.
 */
const isAskable = (f: Flow): boolean => f.to !== 'internet' || f.service.protocol !== 'udp'

describe(`the analysis and the stand-ins, ${SITES} random sites`, () => {
  for (let first = FIRST_SEED; first < FIRST_SEED + SITES; first += BATCH)
    it(`seeds ${first} to ${Math.min(first + BATCH, FIRST_SEED + SITES) - 1}`, async () => {
      let decided = 0
      let reached = 0
      for (let seed = first; seed < Math.min(first + BATCH, FIRST_SEED + SITES); seed++) {
        const chance = chanceOf(seed)
        const plan = randomSite(chance, smallShape(chance, seed % 2 === 0 ? 0.3 : 0))
        const model = siteModel(plan)
        const flows = flowsOf(plan).filter(isAskable)
        const observed = await observe(plan, seed, flows)
        const matrix = matrixOf(plan)
        const differ: string[] = []
        const named = new Set([
          ...Object.values(plan.intents).flatMap((i) => [i.from, i.to]),
          ...Object.values(plan.groups).flatMap((g) => g.memberIds),
        ])
        const homes = (f: Flow): boolean =>
          f.from === 'internet' ||
          f.to === 'internet' ||
          f.from.addressing.segmentId !== f.to.addressing.segmentId
        for (const f of flows) {
          const end = (e: Flow['from']): Endpoint =>
            e === 'internet' ? { kind: 'internet' } : { kind: 'device', id: e.id }
          // Half an hour into the hour, whatever the whole hours by which a zone differs.
          const minute = weekMinuteAt(
            plan.site.timeZone,
            new Date((epochOf(seed) + 2 * START_SECONDS) * 1000),
          )
          const t = trace(
            model,
            end(f.from),
            f.forwardId ? { kind: 'forward', id: f.forwardId } : end(f.to),
            f.service,
            'ipv4',
            minute,
          )
          const predicted = t.verdict === 'delivered'
          if (predicted !== observed.get(f.id))
            differ.push(
              `seed ${seed} ${f.id}: the analysis says ${t.verdict} (${t.decidedBy.text}), ` +
                `the stand-ins ${observed.get(f.id) ? 'let it through' : 'do not'}`,
            )
          // Where the wiring is whole, the trace is the matrix.
          if (seed % 2 === 1 && f.from !== f.to && !f.forwardId) {
            const cell = matrix.cell(
              ...([f.from, f.to].map((e) =>
                e === 'internet'
                  ? e
                  : matrix.places.includes(e.id) && matrix.sources.includes(e.id)
                    ? e.id
                    : e.addressing.segmentId!,
              ) as [string, string]),
            )
            const fate = cell?.services.find((s) => s.serviceId === f.service.id)
            // What a host is exempt from is said of it alone, where an intent names it; and at
            // times, or by a port of the line, the matrix says in words.
            const isNamed = [f.from, f.to].some((e) => e !== 'internet' && named.has(e.id))
            if (
              fate &&
              !isNamed &&
              fate.partly === null &&
              cell!.from !== cell!.to &&
              f.from !== 'internet' &&
              fate.allowed !== predicted &&
              homes(f)
            )
              differ.push(
                `seed ${seed} ${f.id}: the matrix differs from the trace, ${t.decidedBy.text}`,
              )
          }
          decided++
          if (predicted) reached++
        }
        expect(hostsOf(plan).length).toBeGreaterThan(1)
        expect(differ).toEqual([])
      }
      // Both kinds of outcome are there, so that agreeing means something.
      expect(reached).toBeGreaterThan(decided / 50)
      expect(reached).toBeLessThan(decided)
    })
})

describe('a proof, run on the stand-ins of random sites whose wiring has no mistakes', () => {
  it('finds everything as planned, of both kinds, and hours at their time', async () => {
    const counted = { works: 0, blocked: 0, timed: 0 }
    for (let seed = FIRST_SEED; seed < FIRST_SEED + PROVEN; seed++) {
      const chance = chanceOf(seed)
      const plan = randomSite(chance, smallShape(chance, 0))
      const tests = proofTestsOf(siteModel(plan))
      const world = await running(plan, seed)
      const results = judge(
        tests,
        await ask(
          world,
          tests.flatMap((t) => t.probe ?? []),
        ),
        Object.fromEntries(Object.keys(plan.devices).map((id) => [id, 'in-service'])),
      )
      expect(
        results
          .filter((r) => r.verdict === 'contradicts' && !isUnanswerable(r.test.probe, plan))
          .map((r) => `seed ${seed}: ${r.test.title}: ${r.observed}`),
      ).toEqual([])
      for (const r of results) {
        if (r.verdict === 'as-planned') counted[r.test.expected]++
        if (r.verdict === 'as-planned' && r.test.hours) counted.timed++
      }
    }
    expect(Math.min(counted.works, counted.blocked)).toBeGreaterThan(PROVEN * 5)
    expect(counted.timed).toBeGreaterThan(0)
  })
})
/**
 * A port of the line that leads to where nobody listens; a datagram is then as good as lost, and a
 * connection refused.
 */
function isUnanswerable(probe: Probe | null, plan: SitePlan): boolean {
  if (probe?.target?.kind !== 'line') return false
  const f = Object.values(plan.forwards).find(
    (x) =>
      x.protocol === probe.kind && x.outside.first <= probe.port! && probe.port! <= x.outside.last,
  )
  return (
    f !== undefined &&
    !Object.values(plan.services).some(
      (s) =>
        s.protocol === f.protocol &&
        tellingPorts(s.ports, []).includes(f.inside + probe.port! - f.outside.first),
    )
  )
}
