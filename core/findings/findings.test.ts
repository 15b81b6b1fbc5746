import { existsSync, readdirSync } from 'node:fs'
import { resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { petrelStreet } from '../../demo/petrelStreet'
import { chanceOf, randomSite, smallShape } from '../generator'
import { editCall as edit, applyEdit, applyEdits, type SitePlan } from '../plan'
import { addressing, type FindingCase } from './breaking'
import { findingsOf, marksOf, rules, type Finding } from '.'

const only = (findings: Finding[], catchNumber: string): Finding[] =>
  findings.filter((f) => f.catches.includes(catchNumber) || f.ruleId === catchNumber)
/** What wants doing; notes are for knowing. */
const serious = (plan: SitePlan): Finding[] => findingsOf(plan).filter((f) => f.severity !== 'note')
/** The harbour with every fix pressed. */
export function clean(): SitePlan {
  let plan = quayside()
  for (let f = serious(plan)[0]; f; f = serious(plan)[0])
    plan = applyEdits(plan, f.fixes![0]!.edits)
  return plan
}

it('the demo has its honest mistakes, and their buttons mend them all', () => {
  expect(findingsOf(quayside()).map((f) => f.catches[0])).toEqual([
    'C-10',
    'C-14',
    'C-16',
    'C-18',
    'C-34',
    'C-49',
    'C-89',
  ])
  // The kiosk's plain switch was replaced on the way by one that takes its management with a tag.
  expect(findingsOf(clean()).map((f) => f.catches[0])).toEqual(['C-89'])
  expect(marksOf(findingsOf(quayside())).wiring).toEqual({ blockers: 3, cautions: 0 })
})

/** The cases of every discipline that has any. */
const gathered = await Promise.all(
  readdirSync('core')
    .filter((folder) => existsSync(`core/${folder}/findings/cases.ts`))
    .map(
      (folder) =>
        import(pathToFileURL(resolve(`core/${folder}/findings/cases.ts`)).href) as Promise<{
          cases: FindingCase[]
          byHand: FindingCase[]
        }>,
    ),
)
const cases = gathered.flatMap((g) => g.cases)
const byHand = gathered.flatMap((g) => g.byHand)

describe('rules', () => {
  it.each(cases)('%s is found with its numbers', (catchNumber, calls, subject, text) => {
    const found = only(findingsOf(applyEdits(clean(), calls)), catchNumber)
    expect(found.map((f) => f.text).join('\n')).toMatch(text)
    expect(found.some((f) => f.subjects.includes(subject))).toBe(true)
    for (const f of found) expect(f.why.length).toBeGreaterThan(10)
  })
  it.each(cases.filter(([c, calls]) => !(c === 'C-18' && calls.length > 1) && c !== 'C-01'))(
    '%s is mended by each of its fixes',
    (catchNumber, calls) => {
      const broken = applyEdits(clean(), calls)
      for (const finding of only(findingsOf(broken), catchNumber)) {
        expect(finding.fixes?.length, finding.text).toBeGreaterThan(0)
        for (const fix of finding.fixes!)
          expect(
            findingsOf(applyEdits(broken, fix.edits)).some((f) => f.id === finding.id),
            `${finding.text} => ${fix.label}`,
          ).toBe(false)
      }
    },
  )
  it.each(byHand)(
    '%s is found where only a person can mend it',
    (catchNumber, calls, subject, text) => {
      const found = only(findingsOf(applyEdits(clean(), calls)), catchNumber)
      expect(found.map((f) => f.text).join('\n')).toMatch(text)
      expect(found.some((f) => f.subjects.includes(subject))).toBe(true)
    },
  )
  it("finds the overlap of the shop with its provider's router", () => {
    const [found] = only(findingsOf(petrelStreet()), 'C-02')
    expect(found).toMatchObject({
      severity: 'blocker',
      numbers: [
        { label: 'ours', value: '192.168.1.0/24' },
        { label: "the provider's", value: '192.168.1.0/24' },
      ],
    })
    expect(only(findingsOf(applyEdits(petrelStreet(), found!.fixes![0]!.edits)), 'C-02')).toEqual(
      [],
    )
  })
  it('warns of a factory subnet that will be met, without blocking', () => {
    const plan = applyEdits(clean(), [
      edit('changeSegment', {
        id: 'cameras',
        changes: { subnet: '192.168.2.0/24', gateway: '192.168.2.1', pools: [], fixedBlock: null },
      }),
    ])
    expect(only(findingsOf(plan), 'C-07')).toMatchObject([
      {
        severity: 'caution',
        text: expect.stringMatching(
          /192\.168\.2\.0\/24, on which Cupboard switch, Quay AP come from the factory/,
        ),
      },
    ])
  })
  it('stated single services from a restricted segment are a decision, not an accident', () => {
    const plan = applyEdits(clean(), [
      edit('stateIntent', {
        id: 'ok',
        from: 'cameras',
        to: 'office-net',
        services: ['svc-files'],
        action: 'allow',
      }),
    ])
    expect(only(findingsOf(plan), 'C-49')).toEqual([])
  })
  it('a plain switch that is asked for two segments offers each, and says that the others must move', () => {
    const plan = applyEdits(clean(), [
      edit('addDevice', {
        id: 'berth-screen',
        name: 'Berth screen',
        profileId: 'wired-host',
        ...addressing('automatic', 'visitors', '10.20.90.9', null),
      }),
      edit('addLink', {
        id: 'l-screen',
        a: 'kiosk-switch.3',
        b: 'berth-screen.eth0',
        medium: 'copper',
        lengthM: 2,
      }),
    ])
    const [found] = only(findingsOf(plan), 'C-16')
    expect(found!.fixes!.map((f) => f.label)).toEqual([
      'Put a Switch 8 PoE+ 65 W in its place, which can',
      'Give the whole switch to VLAN 20 Office (the others must move)',
      'Give the whole switch to VLAN 90 Visitors (the others must move)',
    ])
    // Only another switch ends it: with one segment for the whole, the hosts of the other are still
    // wrong.
    const [managed, ...whole] = found!.fixes!.map((f) =>
      only(findingsOf(applyEdits(plan, f.edits)), 'C-16'),
    )
    expect([managed!.length, ...whole.map((w) => w.length)]).toEqual([0, 1, 1])
    expect(
      findingsOf(applyEdits(plan, found!.fixes![0]!.edits)).filter((f) => f.severity === 'blocker'),
    ).toEqual([])
  })
  it('have ids, sheets and titles of their own', () => {
    expect(new Set(rules.map((r) => r.id)).size).toBe(rules.length)
    expect([...new Set(rules.flatMap((r) => r.catches))].sort()).toEqual([
      ...Array.from({ length: 20 }, (_, i) => `C-${String(i + 1).padStart(2, '0')}`),
      ...['C-21', 'C-22'],
      'C-23',
      'C-24',
      'C-25',
      'C-26',
      'C-27',
      'C-28',
      'C-29',
      'C-30',
      ...['C-32', 'C-33', 'C-34', 'C-35', 'C-36', 'C-37', 'C-38', 'C-39', 'C-40'],
      ...['C-41', 'C-42', 'C-43', 'C-44', 'C-45', 'C-46', 'C-47', 'C-48'],
      'C-49',
      'C-50',
      'C-52',
      'C-53',
      ...['C-54', 'C-55', 'C-56', 'C-57', 'C-58', 'C-59', 'C-60'],
      'C-67',
      'C-68',
      'C-69',
      'C-71',
      'C-73',
      ...['C-81', 'C-82', 'C-83', 'C-84', 'C-85'],
      'C-87',
      'C-88',
      'C-89',
      'C-90',
      'C-91',
      'C-92',
    ])
  })
})

it('the first buttons of all findings come to an end, on any site, and leave nothing that has a button', () => {
  for (let seed = 1; seed <= 60; seed++) {
    let plan = randomSite(chanceOf(seed), smallShape(chanceOf(seed), 4))
    const first = findingsOf(plan).filter((f) => f.fixes?.length).length
    let presses = 0
    for (
      let f = findingsOf(plan).find((x) => x.fixes?.length);
      f;
      f = findingsOf(plan).find((x) => x.fixes?.length)
    ) {
      plan = applyEdits(plan, f.fixes![0]!.edits)
      expect(++presses, `seed ${seed}: ${f.text}`).toBeLessThanOrEqual(3 * first + 10)
    }
  }
})
it('notes a habit that is broken and numbers that everybody has, and asks for nothing where all is well', () => {
  const odd = applyEdits(clean(), [
    edit('changeSegment', { id: 'office-net', changes: { vlanId: 1 } }),
  ])
  const [found] = findingsOf(odd).filter((f) => f.ruleId === 'addressing/habits')
  expect(found).toMatchObject({
    severity: 'caution',
    text: expect.stringMatching(/Office is in VLAN 1, and the site's habit is to leave it empty/),
  })
  for (const fix of found!.fixes!)
    expect(
      findingsOf(applyEdits(odd, fix.edits)).filter((f) => f.ruleId === 'addressing/habits'),
    ).toEqual([])
  expect(findingsOf(petrelStreet()).find((f) => f.severity === 'note')?.text).toMatch(
    /192\.168\.1\.0\/24 has the numbers of routers at home/,
  )
})
it('the three sites of the demo have the mistakes that were left in them, and no others', () => {
  const catches = (plan: SitePlan): string[] =>
    findingsOf(plan)
      .filter((f) => f.severity !== 'note')
      .map((f) => f.catches[0] ?? f.ruleId)
  expect(catches(kittiwakeHarbour())).toEqual([
    'C-05',
    'C-10',
    'C-11',
    'C-14',
    'C-16',
    'C-18',
    'C-34',
    'C-23',
    'C-25',
    'C-27',
    'C-07',
    'C-19',
    'C-35',
    ...['C-36', 'C-36'],
    ...['C-40', 'C-40', 'C-40'],
    'C-37',
    ...['C-48', 'C-35', 'C-41', 'C-46', 'bridges/wind-load'],
    ...['C-54', 'C-55', 'C-56'],
  ])
  expect(catches(petrelStreet())).toEqual([
    'C-02',
    'C-71',
    'C-01',
    'C-23',
    'C-30',
    'C-25',
    'C-26',
    'C-07',
    'addressing/habits',
    'C-55',
  ])
  expect(catches(dunlinSlipway())).toEqual([])
})

describe('what is kept from one plan to the next', () => {
  const anew = (plan: SitePlan): Finding[] =>
    findingsOf(JSON.parse(JSON.stringify(plan)) as SitePlan)
  const lists = [
    ...[...cases, ...byHand].map(([, list]) => list),
    [edit('changeSegment', { id: 'cameras', changes: { vlanId: 1 } })],
    [edit('changeSite', { preferences: { betweenSegments: 'allow' } })],
  ]
  it('is what would be found anew, after any row of the edits that break a plan', () => {
    const met = new Set<string>()
    const chance = chanceOf(1)
    // Dealt like cards, so that each has its turn.
    let deck: (typeof lists)[number][] = []
    const deal = () => {
      if (deck.length === 0) deck = [...lists]
      return deck.splice(chance.between(0, deck.length - 1), 1)[0]!
    }
    for (let seed = 1; seed <= 45; seed++) {
      const plans = [clean()]
      for (let n = 0; n < 14; n++)
        for (const call of deal()) {
          const outcome = applyEdit(plans.at(-1)!, call)
          if (outcome.ok) plans.push(outcome.plan)
        }
      // The row of edits first: what is looked at in between would be what is remembered.
      const row = plans.map(findingsOf)
      for (const [i, plan] of plans.entries())
        expect(row[i], `seed ${seed}, edit ${i}`).toEqual(anew(plan))
      for (const f of row.flat()) met.add(f.ruleId)
    }
    // What needs a row to itself, nothing of it undone by another, has one.
    const missing = (): string[] => rules.map((r) => r.id).filter((id) => !met.has(id))
    for (const list of lists) {
      if (missing().length === 0) break
      const plan = applyEdits(clean(), list)
      const found = findingsOf(plan)
      expect(found).toEqual(anew(plan))
      for (const f of found) met.add(f.ruleId)
    }
    expect(missing()).toEqual([])
  })
  it('is kept: taking a cable out leaves the very same findings of the policy and of the addresses', () => {
    const plan = quayside()
    const elsewhere = (list: Finding[]): Finding[] =>
      list.filter((f) => f.sheet === 'policy' || f.sheet === 'addresses')
    const before = elsewhere(findingsOf(plan))
    expect(before.length).toBeGreaterThan(1)
    const after = elsewhere(findingsOf(applyEdits(plan, [edit('removeLink', { id: 'l-ap' })])))
    expect(after.map((f) => before.indexOf(f))).toEqual(before.map((_, i) => i))
  })
})
