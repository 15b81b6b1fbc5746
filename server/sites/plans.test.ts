import { describe, expect, it } from 'vitest'
import { createPlan, type SitePlan } from '@mast/core/plan'
import { stored } from './plans'

const plan = createPlan('Stored')
const isWhole = (number: number, versionBefore: number | null, p: SitePlan = plan): boolean =>
  stored(number, p, versionBefore).document === p

describe('what is stored of a plan', () => {
  it('is the whole at the first revision and every 32 after it, nothing in between', () => {
    expect(
      Array.from({ length: 70 }, (_, i) => i + 1).filter((n) =>
        isWhole(n, n === 1 ? null : plan.version),
      ),
    ).toEqual([1, 33, 65])
  })
  it('is the whole where the version of the plan document changes: patches of one version do not fit another', () => {
    expect(isWhole(17, plan.version - 1)).toBe(true)
    expect(isWhole(18, plan.version)).toBe(false)
  })
  it('names the version that its patches are for', () => {
    expect(stored(2, plan, plan.version)).toEqual({ version: plan.version, document: null })
  })
})
