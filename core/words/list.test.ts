import { expect, it } from 'vitest'
import { listWords, togetherWords } from '.'

it('says names as one does', () => {
  expect([['A'], ['A', 'B'], ['A', 'B', 'C']].map(listWords)).toEqual([
    'A',
    'A and B',
    'A, B and C',
  ])
  expect([['A'], ['A', 'B'], ['A', 'B', 'C']].map(togetherWords)).toEqual([
    'A',
    'A and B both',
    'A, B and C all',
  ])
})
