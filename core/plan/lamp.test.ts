import { expect, it } from 'vitest'
import { catalogue } from './catalogue'
import { isGroup, lightWords, rhythmWords } from './lamp'

it.each([
  ['.', 'one short'],
  ['..-', 'two short, one long'],
  ['-.-', 'one long, one short, one long'],
  ['double', 'in pairs'],
])('%s is said as %s', (rhythm, words) => expect(rhythmWords(rhythm)).toBe(words))

it('the code of our own profiles is told by its rhythm alone: colours only say whether it waits or works', () => {
  const { lights } = catalogue['gateway-4-2']!
  const lit = lights.filter((l) => l.colour !== 'off')
  expect(lit.every((l) => isGroup(l.rhythm))).toBe(true)
  expect(new Set(lit.map((l) => l.rhythm)).size).toBe(lit.length)
  expect(Object.fromEntries(lights.map((l) => [l.state, lightWords(l)]))).toEqual({
    off: 'dark',
    starting: 'amber, one long, one short',
    'seeking-address': 'teal, one short',
    'seeking-controller': 'teal, two short',
    'awaiting-claim': 'teal, three short',
    loading: 'amber, one long, two short',
    'in-service': 'teal, one long',
    fault: 'amber, one long, one short, one long',
  })
})
