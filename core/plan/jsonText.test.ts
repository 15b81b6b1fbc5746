import { describe, expect, it } from 'vitest'
import { parsePlanText } from './parse'
import { unreadable } from './jsonText'

describe('what is nested too deeply is told before anybody reads it', () => {
  const deep = '['.repeat(20_000)
  it.each([
    ['as it is', deep],
    ['behind signs that close nothing', '}]'.repeat(30_000) + deep],
    ['with signs of the other kind between', '[},'.repeat(20_000)],
    ['behind a comment with a quotation mark', `/* " */ ${deep}`],
    ['behind a line of comment', `// "\n${deep}`],
    ['behind a string that a line ends', `"abc\r${deep}`],
  ])('%s', (_, text) => {
    expect(unreadable(text)?.reason).toMatch(/nested deeper/)
    expect(parsePlanText(text).ok).toBe(false)
  })
  it('what stands in strings and comments is none of it', () => {
    expect(unreadable(`{"a": "${'['.repeat(500)}\\"["} // ${deep}\n/* ${deep} */`)).toBeUndefined()
    expect(unreadable(`[1/2, "a/b"${', [1]'.repeat(500)}]`)).toBeUndefined()
  })
})
