import { expect, it } from 'vitest'
import { Queue, Shares } from './queue'

it('a queue does so much at once, lets so much wait, and tells the rest to come again', async () => {
  const queue = new Queue('hashing', 2, 3)
  const gates: (() => void)[] = []
  let running = 0
  let most = 0
  const work = async (): Promise<void> => {
    most = Math.max(most, ++running)
    await new Promise<void>((r) => gates.push(r))
    running--
  }
  const all = Array.from({ length: 5 }, () => queue.run(work))
  await new Promise((r) => setImmediate(r))
  await expect(queue.run(work)).rejects.toMatchObject({
    kind: 'busy',
    message: expect.stringContaining('too much hashing'),
  })
  while (gates.length > 0) {
    gates.shift()!()
    await new Promise((r) => setImmediate(r))
  }
  await Promise.all(all)
  expect(most).toBe(2)
})
it('a share is of one who asks, and is given back once', () => {
  const shares = new Shares('streams', 2)
  const leave = shares.take('a')
  shares.take('a')
  expect(() => shares.take('a')).toThrow(/2 streams at once are the most/)
  shares.take('b')
  leave()
  leave()
  shares.take('a')
  expect(() => shares.take('a')).toThrow()
})
