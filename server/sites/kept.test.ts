import { describe, expect, it } from 'vitest'
import { KeptRevisions } from './kept'

describe('kept revisions', () => {
  it('of a site that is edited all the time push out its own, not those of others', () => {
    const kept = new KeptRevisions<string>(10, 4)
    kept.keep('quiet', 1, 'q')
    for (let n = 1; n <= 100; n++) kept.keep('busy', n, `b${n}`)
    expect(kept.get('quiet', 1)).toBe('q')
    expect([96, 97, 98, 99, 100].map((n) => kept.get('busy', n))).toEqual([
      undefined,
      'b97',
      'b98',
      'b99',
      'b100',
    ])
  })
  it('go in the order of their last use', () => {
    const kept = new KeptRevisions<string>(2, 2)
    kept.keep('a', 1, 'a1')
    kept.keep('a', 2, 'a2')
    kept.keep('b', 1, 'b1')
    kept.get('a', 1)
    kept.keep('a', 3, 'a3')
    expect([1, 2, 3].map((n) => kept.get('a', n))).toEqual(['a1', undefined, 'a3'])
    kept.keep('c', 1, 'c1')
    expect(kept.get('b', 1)).toBeUndefined()
    expect(kept.get('a', 3)).toBe('a3')
  })
  it('are found by nearness, on either side and no farther than asked', () => {
    const kept = new KeptRevisions<string>(2, 8)
    for (const n of [10, 20, 40]) kept.keep('a', n, `a${n}`)
    expect(kept.nearest('a', 24, 32)).toEqual({ number: 20, value: 'a20' })
    expect(kept.nearest('a', 36, 32)).toEqual({ number: 40, value: 'a40' })
    expect(kept.nearest('a', 100, 32)).toBeUndefined()
    expect(kept.nearest('b', 24, 32)).toBeUndefined()
  })
})
