/** Each job is walked whole: what was found is mended, what is to be decided decided, and proven. */
import { describe, expect, it } from 'vitest'
import { claimsAddUp, nearestSerial, sortClaims, transition, waitingFor } from '@mast/core/adoption'
import { runSheetOf, type Step } from '@mast/core/bringup'
import { findingsOf } from '@mast/core/findings'
import { readClaimList } from '@mast/core/formats'
import { applyEdits, type EditCall, type SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { privateKeyFrom, publicKeyOf } from '@mast/core/tunnels'
import { drillExpected, judgeDrill, turnOf } from '@mast/core/uplinks'
import { broughtUp, pass, prove, until, type BroughtUp } from '../../tests/sites/broughtUp'
import { exercises } from '.'
import type { Exercise } from './exercise'
import { exerciseNames } from './names'

/** With every button pressed that is not about what is meant to stand. */
function solved({ begin, decisions, leaves }: Exercise): SitePlan {
  let now = applyEdits(begin(), [...decisions])
  for (let presses = 0; presses < 60; presses++) {
    const finding = findingsOf(now).find((f) => f.fixes?.length && !leaves.includes(f.ruleId))
    if (!finding) return now
    now = applyEdits(now, finding.fixes![0]!.edits)
  }
  throw new Error('the buttons come to no end')
}

/** What a press on "Make keys" gives: keys of tunnels and of their peers, the private ones in the vault. */
function keyed(plan: SitePlan): { plan: SitePlan; keys: Record<string, string> } {
  const keys: Record<string, string> = {}
  const edits = (['tunnels', 'peers'] as const).flatMap((kind, k) =>
    Object.keys(plan[kind]).map((id, n) => {
      const ref = `key-of-${id}`
      keys[ref] = privateKeyFrom(
        Uint8Array.from({ length: 32 }, (_, i) => ((k * 50 + n + 1) * 31 + i * 7) % 256),
      )
      return {
        name: kind === 'tunnels' ? 'changeTunnel' : 'changePeer',
        args: { id, changes: { publicKey: publicKeyOf(keys[ref]), privateKeyRef: ref } },
      } as EditCall
    }),
  )
  return { plan: applyEdits(plan, edits), keys }
}

describe.each(exercises.map((e) => [e.job, e] as const))('%s', (_, exercise) => {
  it('has something to do when it is opened, and no blocker when it is done', () => {
    expect(solved(exercise)).not.toEqual(exercise.begin())
    expect(
      findingsOf(solved(exercise)).flatMap((f) => (f.severity === 'blocker' ? [f.text] : [])),
    ).toEqual([])
  })
  it('is brought up by its run sheet and proven', async () => {
    const { plan, keys } = keyed(solved(exercise))
    // At each proof of its run sheet, and when all of it is done.
    let proofs = 0
    const proven = async (site: BroughtUp): Promise<void> => {
      proofs++
      await pass(site.world, 600)
      expect((await prove(site)).wrong, `proof ${proofs}`).toEqual([])
    }
    const { wrong, results } = await prove(await broughtUp(plan, 7, keys, proven))
    expect(wrong).toEqual([])
    expect(proofs).toBe(2)
    const shown = new Set(results.map((r) => r.test.title))
    expect(exercise.shows.filter((title) => !shown.has(title))).toEqual([])
  })
})
it('have names and numbers of their own', () => {
  for (const of of [(e: Exercise) => e.id, (e: Exercise) => e.job, (e: Exercise) => e.name])
    expect(new Set(exercises.map(of)).size).toBe(exercises.length)
  expect(exerciseNames).toEqual(exercises.map((e) => e.name))
})

it('are not taken for one another where several are open: serials far apart, hardware addresses of their own', () => {
  const units = exercises.flatMap((e) =>
    Object.values(solved(e).devices).map((d) => ({ ...d, job: e.job })),
  )
  const near = units.flatMap(({ serial, job }) => {
    const others = units.flatMap((u) => (u.job !== job && u.serial ? [u.serial] : []))
    return serial && (others.includes(serial) || nearestSerial(serial, others)) ? [serial] : []
  })
  expect(near).toEqual([])
  const jobs = new Map<string, Set<string>>()
  for (const { hardwareAddress: at, job } of units)
    if (at) jobs.set(at, new Set([...(jobs.get(at) ?? []), job]))
  expect([...jobs].filter(([, of]) => of.size > 1)).toEqual([])
})

const of = (job: string): Exercise => exercises.find((e) => e.job === job)!
const sheetOf = (job: string): readonly Step[] => runSheetOf(siteModel(solved(of(job))))
const at = (sheet: readonly Step[], is: (s: Step) => boolean): number => sheet.findIndex(is)

describe('what decides beside the proof', () => {
  it('J-01: the account is made before anything is unpacked, and nobody is at a page', () => {
    const sheet = sheetOf('J-01')
    expect(sheet.find((s) => s.kind === 'controller-account')!.needs).toEqual([])
    expect(sheet.filter((s) => s.action?.kind === 'page' || s.action?.kind === 'laptop')).toEqual(
      [],
    )
  })
  it('J-05: claimed in its box the gateway waits for its first call, and that is no error', () => {
    const model = siteModel(solved(of('J-05')))
    const gateway = model.gateway!
    const claimed = transition('planned', 'claim')
    expect(claimed).toMatchObject({ ok: true, state: 'claimed' })
    expect(
      waitingFor({
        state: claimed.ok ? claimed.state : 'planned',
        serial: gateway.serial,
        firmware: null,
        firmwareWanted: model.profileOf(gateway.id).firmware.wanted,
        isHeard: false,
      }),
    ).toEqual({ text: 'power, and the device to call for the first time', isError: false })
  })
  it('J-10: the card and the aerials are in before the router has power', () => {
    const sheet = sheetOf('J-10')
    const power = at(sheet, (s) => s.deviceId === 'cell' && s.action?.kind === 'power')
    const aerials = at(sheet, (s) => s.kind === 'antennas')
    expect(aerials).toBeGreaterThanOrEqual(0)
    expect(power).toBeGreaterThan(aerials)
  })
  it('J-13: everything is fetched before the radio cuts the internet off, and the laptop goes back', () => {
    const sheet = sheetOf('J-13')
    const first = at(sheet, (s) => s.deviceId === 'ap')
    expect(at(sheet, (s) => s.kind === 'fetch')).toBeGreaterThanOrEqual(0)
    expect(at(sheet, (s) => s.kind === 'fetch')).toBeLessThan(first)
    expect(at(sheet, (s) => s.kind === 'laptop-automatic')).toBeGreaterThan(first)
  })
  it('J-11, J-21: where the extender stands now the far spot carries more than without it', async () => {
    for (const job of ['J-11', 'J-21']) {
      const reads = async (plan: SitePlan) => {
        const { world } = await broughtUp(plan)
        const { x, y } = plan.devices['tablet']!.place!
        const [seen] = await until(
          world,
          world.probe([
            {
              ...{ id: 'read', from: 'tablet', kind: 'air', target: null, port: null },
              spot: { floorId: 'ground', x, y, leastDbm: -60, leastMbps: 0 },
            },
          ]),
        )
        return seen!.reading
      }
      const plan = solved(of(job))
      const without = await reads(
        applyEdits(plan, [{ name: 'removeDevice', args: { id: 'extender' } }]),
      )
      const now = await reads(plan)
      expect(now?.deviceId).toBe('extender')
      expect(now!.mbps).toBeGreaterThan(2 * (without?.mbps ?? 0))
    }
  })
  it('J-21: the antennas are on before the extender has power', () => {
    const sheet = sheetOf('J-21')
    const fit = at(sheet, (s) => s.kind === 'antennas' && s.deviceId === 'extender')
    const power = at(sheet, (s) => s.deviceId === 'extender' && s.action?.kind === 'power')
    expect(fit).toBeGreaterThanOrEqual(0)
    expect(power).toBeGreaterThan(fit)
  })
  it('J-15: the plug is pulled, and the desk is out again as soon as was foretold, and back', async () => {
    const plan = solved(of('J-15'))
    const model = siteModel(plan)
    const { world } = await broughtUp(plan)
    const turn = turnOf(model, 'line')!
    expect(turn.next.id).toBe('spare')
    const expected = drillExpected(model, turn, 'cable')
    const desk = {
      segmentId: 'staff',
      serviceId: null,
      hostId: 'desk',
      protocol: 'icmp' as const,
      port: null,
    }
    const seen = await until(
      world,
      world.drill({
        lineId: 'line',
        kind: 'cable',
        away: [],
        asks: [desk],
        outageSeconds: Math.ceil(expected.over!.worst) + 20,
        returnSeconds: expected.back!.worst + 20,
      }),
    )
    expect(seen).toMatchObject({ ok: true })
    const { overSeconds, backSeconds } = seen
    expect(
      judgeDrill(model, {
        ...{ lineId: 'line', kind: 'cable', overSeconds, backSeconds, segments: [] },
        measuredBy: 'stand-ins',
        isAfterRestart: false,
      }),
      JSON.stringify([expected, seen]),
    ).toMatchObject({ isAsForetold: true })
    expect(overSeconds).toBeLessThanOrEqual(plan.site.failover.toleratedSeconds!)
  })
  it('J-16: what is inspected is slower than the line, and that is said before', () =>
    expect(
      findingsOf(of('J-16').begin())
        .map((f) => f.text)
        .join(),
    ).toMatch(/850 Mbit\/s/))
  it('J-18: the list counts one more than before, each row told apart', () => {
    const plan = solved(of('J-18'))
    const { rows } = readClaimList('serial\nAM-AP-61103\nAM-AP-61103\nAM-SWI-60992\n')
    const sorted = sortClaims(plan, rows, new Set(['gateway', 'switch']))
    expect(sorted.claims.map((c) => c.device.id)).toEqual(['ap'])
    expect(sorted.already.length).toBe(1)
    expect(sorted.refused.map((r) => r.line)).toEqual([3])
    expect(claimsAddUp(2, 1, 3).isRight).toBe(true)
  })
  it('J-22: what hung on the dead one has its addresses and VLANs, and nobody knows the old serial', () => {
    const [before, after] = [of('J-22').begin(), solved(of('J-22'))]
    expect(after.devices.switch!.serial).not.toBe(before.devices.switch!.serial)
    expect(after.devices.switch!.addressing).toEqual(before.devices.switch!.addressing)
    for (const socket of ['switch.4', 'switch.5'])
      expect(after.ports[socket]!.untaggedSegmentId).toBe(before.ports[socket]!.untaggedSegmentId)
  })
})
