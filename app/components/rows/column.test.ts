import { describe, expect, it } from 'vitest'
import { columnText, inOrder } from './column'

describe('the order of a column', () => {
  it('counts as people do', () => {
    expect(['AP 10', 'AP 2', 'AP 1'].sort(inOrder)).toEqual(['AP 1', 'AP 2', 'AP 10'])
    expect(['10.20.0.130', '10.20.0.2', '10.3.0.1'].sort(inOrder)).toEqual([
      '10.3.0.1',
      '10.20.0.2',
      '10.20.0.130',
    ])
    expect([100, 20, 3].sort(inOrder)).toEqual([3, 20, 100])
    expect([Infinity, 0.4, 7].sort(inOrder)).toEqual([0.4, 7, Infinity])
  })

  it('sorts by the value and shows the words', () => {
    const column = { key: 'lease', title: 'Lease', value: (s: number) => s, text: () => '1 day' }
    expect(columnText(column, 86_400)).toBe('1 day')
    expect(columnText({ key: 'n', title: 'N', value: (s: number) => s }, 5)).toBe('5')
  })
})
