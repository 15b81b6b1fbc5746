import { describe, expect, it } from 'vitest'
import { inTurn } from './turns'

const gate = (): { open: () => void; opened: Promise<void> } => {
  let open = (): void => {}
  const opened = new Promise<void>((r) => {
    open = r
  })
  return { open, opened }
}

describe('turns', () => {
  it(
    'come one after the other for the same thing, whatever each throws, and beside each other ' +
      'for others',
    async () => {
      const said: string[] = []
      const first = gate()
      const a = inTurn('a', async () => {
        await first.opened
        said.push('a1')
        throw new Error('mine')
      })
      const b = inTurn('a', async () => {
        said.push('a2')
        return 2
      })
      await inTurn('b', async () => {
        said.push('b1')
      })
      expect(said).toEqual(['b1'])
      first.open()
      await expect(a).rejects.toThrow('mine')
      expect(await b).toBe(2)
      expect(said).toEqual(['b1', 'a1', 'a2'])
    },
  )
  it('are refused where too many wait, and given again when those are done', async () => {
    const first = gate()
    const all = Array.from({ length: 200 }, () => inTurn('c', () => first.opened))
    expect(() => inTurn('c', async () => {})).toThrow(/try again in a moment/)
    first.open()
    await Promise.all(all)
    expect(await inTurn('c', async () => 'again')).toBe('again')
  })
})
