import { existsSync, readdirSync } from 'node:fs'
import { resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { describe, expect, it } from 'vitest'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { petrelStreet } from '../../demo/petrelStreet'
import { valueFor } from '../../tests/attacks/arbitrary'
import { quayside } from '../../tests/sites/quayside'
import { chanceOf, randomSite, smallShape } from '../generator'
import { applyRawEdit, edits, runEdits, type EditCall, type SitePlan } from '../plan'
import { collections } from '../plan/kinds'
import type { FindingCase } from './breaking'
import { findingsOf, offersOf } from '.'

/** Sites of ours, made ones, and the harbour broken in each way that a rule knows. */
async function sitesToTry(): Promise<SitePlan[]> {
  const sites = [quayside(), dunlinSlipway(), kittiwakeHarbour(), petrelStreet()]
  for (let n = 1; n <= 10; n++) sites.push(randomSite(chanceOf(n), smallShape(chanceOf(n), 4)))
  for (const folder of readdirSync('core')) {
    const file = `core/${folder}/findings/cases.ts`
    if (!existsSync(file)) continue
    const { cases, byHand } = (await import(pathToFileURL(resolve(file)).href)) as {
      cases: FindingCase[]
      byHand: FindingCase[]
    }
    for (const [, calls] of [...cases, ...byHand]) {
      const outcome = runEdits(quayside(), '', calls)
      if (outcome.ok) sites.push(outcome.plan)
    }
  }
  return sites
}

const TEXTS = ['10.20.10.0/24', '192.168.1.0/24', '172.20.0.5', '10.20.20.1', 'a name', '8']
/** A site after a few edits that nobody thought about. */
function damaged(plan: SitePlan, seed: number): SitePlan {
  const chance = chanceOf(seed)
  const ids = collections.flatMap((c) => Object.keys(plan[c]))
  let now = plan
  for (let tries = 0, done = 0; tries < 200 && done < 6; tries++) {
    const [name, { args }] = chance.one([...edits])
    if (name.startsWith('remove')) continue
    const outcome = applyRawEdit(now, {
      name,
      args: valueFor(args, chance, { ids, texts: TEXTS }, 0),
    })
    if (!outcome.ok) continue
    now = outcome.plan
    done++
  }
  return now
}

const sites = await sitesToTry()
const all = [...sites, ...sites.flatMap((s, n) => (n % 3 === 0 ? [damaged(s, n + 1)] : []))]

describe(`fixes on ${all.length} sites`, () => {
  it('can be done, and take what they mend away', () => {
    const wrong: string[] = []
    let tried = 0
    for (const plan of all)
      for (const finding of findingsOf(plan))
        for (const fix of finding.fixes ?? []) {
          tried++
          const outcome = runEdits(plan, fix.label, fix.edits)
          const after = outcome.ok ? findingsOf(outcome.plan) : []
          if (!outcome.ok)
            wrong.push(`${finding.text} => ${fix.label}: ${outcome.problems[0]!.reason}`)
          else if (after.some((f) => f.id === finding.id))
            wrong.push(`${finding.text} => ${fix.label}: it is still there`)
        }
    expect(wrong).toEqual([])
    expect(tried).toBeGreaterThan(300)
  })

  it('are offered with every blocker that they bring, those first that bring none', () => {
    let brought = 0
    for (const plan of all) {
      const before = findingsOf(plan)
      const had = new Set(before.map((f) => f.id))
      for (const finding of before) {
        const offers = offersOf(plan, finding)
        for (const offer of offers) {
          const outcome = runEdits(plan, offer.label, offer.edits)
          const now = outcome.ok ? findingsOf(outcome.plan) : []
          const blockers = now.filter((f) => f.severity === 'blocker' && !had.has(f.id))
          expect(offer.brings).toEqual(blockers.map((f) => f.text))
          brought += blockers.length
        }
        const order = offers.map((o) => Math.sign(o.brings.length))
        expect(order).toEqual([...order].sort())
      }
    }
    expect(brought).toBeGreaterThan(0)
  })

  it('belong to remarks that can be told apart, whatever the order of what they are about', () => {
    for (const plan of all) {
      const ids = findingsOf(plan).map((f) => f.id)
      expect(ids.filter((id, n) => ids.indexOf(id) !== n)).toEqual([])
    }
    const turned = (plan: SitePlan): SitePlan =>
      ({
        ...plan,
        ...Object.fromEntries(
          collections.map((c) => [c, Object.fromEntries(Object.entries(plan[c]).reverse())]),
        ),
      }) as SitePlan
    for (const plan of sites)
      expect(
        findingsOf(turned(plan))
          .map((f) => f.id)
          .sort(),
      ).toEqual(
        findingsOf(plan)
          .map((f) => f.id)
          .sort(),
      )
  })
})

it('a fix that cannot be done, or does not mend, is not offered', () => {
  const plan = quayside()
  const finding = findingsOf(plan).find((f) => f.fixes?.length)!
  const nothing: EditCall = { name: 'changeSite', args: { name: 'Another name' } }
  const impossible: EditCall = { name: 'removeDevice', args: { id: 'nobody' } }
  const fixes = [
    { label: 'nothing', edits: [nothing] },
    { label: 'impossible', edits: [nothing, impossible] },
    ...finding.fixes!,
  ]
  expect(offersOf(plan, { id: finding.id, fixes }).map((o) => o.label)).toEqual(
    offersOf(plan, finding).map((o) => o.label),
  )
})
