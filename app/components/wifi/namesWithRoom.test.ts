import { expect, it } from 'vitest'
import { namesWithRoom } from './namesWithRoom'

it('the first of two names that meet stays; nearer there is room for both', () => {
  const names = [
    { id: 'a', text: 'Quay AP 100', x: 50, y: 20 },
    { id: 'b', text: 'Ice House AP', x: 60, y: 22 },
    { id: 'c', text: 'Slip', x: 50, y: 60 },
  ]
  expect([...namesWithRoom(names, 0.5)]).toEqual(['a', 'c'])
  expect([...namesWithRoom(names, 0.05)]).toEqual(['a', 'b', 'c'])
  expect(namesWithRoom([], 1).size).toBe(0)
})
