import { expect, it } from 'vitest'
import { soon } from './soon'

it('what comes soon is what it is, an error too', async () => {
  expect(await soon(Promise.resolve(7))).toBe(7)
  await expect(soon(Promise.reject(new Error('mine')))).rejects.toThrow('mine')
})
it('an answer that has begun takes as long as it takes', async () => {
  let finish: (value: string) => void = () => {}
  const stream = new Promise<string>((resolve) => {
    finish = resolve
  })
  const outcome = soon(stream, () => true, 1)
  await new Promise((r) => setTimeout(r, 20))
  finish('over')
  expect(await outcome).toBe('over')
})
it('what does not come is told, and what becomes of it later harms nobody', async () => {
  let fail: (error: Error) => void = () => {}
  const never = new Promise<never>((_, reject) => {
    fail = reject
  })
  await expect(soon(never, () => false, 1)).rejects.toMatchObject({
    kind: 'busy',
    message: expect.stringContaining('try again in a moment'),
  })
  fail(new Error('late'))
  await new Promise((r) => setImmediate(r))
})
