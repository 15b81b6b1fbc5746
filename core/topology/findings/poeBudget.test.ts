import { describe, expect, it } from 'vitest'
import { quayside } from '../../../tests/sites/quayside'
import { findingsOf, type Finding } from '../../findings'
import { applyEdits, editCall as edit, type EditCall, type SitePlan } from '../../plan'
import { billOfMaterials } from '../../survey'
import { siteModel } from '..'

const budget = (watts: number): EditCall =>
  edit('changeProfile', { id: 'switch-8-poe-65', changes: { poeBudgetW: watts } })
const found = (plan: SitePlan): Finding =>
  findingsOf(plan).find((f) => f.id === 'wiring/power-over-budget:budget:switch')!
const indoors: EditCall = edit('changeLocation', { id: 'quay', changes: { mains: true } })

describe('C-18: power over the budget', () => {
  it('says what is reserved and what is drawn', () => {
    const plan = quayside()
    const drawn = Object.values(plan.devices)
      .filter((d) => d.power === 'poe')
      .reduce((n, d) => n + plan.profiles[d.profileId]!.drawW, 0)
    expect(found(plan).numbers).toContainEqual(
      expect.objectContaining({ label: 'drawn', value: `${drawn} W` }),
    )
  })
  it('offers the fewest that end it together where none does alone, with injectors in the materials', () => {
    const plan = applyEdits(quayside(), [indoors, budget(20)])
    const [fix, ...others] = found(plan).fixes!
    expect(others).toEqual([])
    expect(fix!.label).toMatch(/^Power .* and .* by injectors: \d are needed$/)
    const mended = applyEdits(plan, fix!.edits)
    expect(found(mended)).toBeUndefined()
    // One fewer does not do.
    for (const without of fix!.edits)
      expect(
        found(
          applyEdits(
            plan,
            fix!.edits.filter((e) => e !== without),
          ),
        ),
      ).toBeDefined()
    const injectors = (p: SitePlan): number =>
      billOfMaterials(siteModel(p)).find((l) => l.what === 'Power injector 30 W')?.count ?? 0
    expect(injectors(mended) - injectors(plan)).toBe(fix!.edits.length)
  })
  it('says to the hundredth of a watt what a demoted device gets (IEEE 802.3: class 3, 12.95 W)', () => {
    const plan = applyEdits(quayside(), [
      edit('changeProfile', {
        id: 'switch-8-poe-65',
        changes: {
          ports: quayside().profiles['switch-8-poe-65']!.ports.map((p) =>
            p.poeOutType ? { ...p, poeOutType: 1 as const } : p,
          ),
        },
      }),
    ])
    expect(findingsOf(plan).map((f) => f.text)).toContainEqual(
      expect.stringMatching(/Quay AP is class 4, .* 12\.95 W arrive, and it draws/),
    )
  })
})
