import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { nameOfId, valueWords, wordsForField, wordsForTop } from '.'

const plan = quayside()
describe('values in words', () => {
  it.each<[unknown, string]>([
    [null, 'none'],
    [undefined, 'none'],
    [true, 'yes'],
    [false, 'no'],
    [42, '42'],
    ['', 'none'],
    ['switch', 'Cupboard switch'],
    ['no-such-id', 'no-such-id'],
    [[], 'none'],
    [['cameras', 'visitors'], 'Cameras, Visitors'],
    [{ first: '10.0.0.1', last: '10.0.0.9' }, '10.0.0.1-10.0.0.9'],
    [{ untaggedSegmentId: 'cameras', taggedSegmentIds: [] }, 'untagged Cameras'],
    [{}, 'none'],
    [
      {
        subnet: '10.0.0.0/24',
        gateway: '10.0.0.1',
        pools: [{ first: '10.0.0.5', last: '10.0.0.9' }],
        fixedBlock: null,
      },
      'subnet 10.0.0.0/24; gateway 10.0.0.1; pools 10.0.0.5-10.0.0.9',
    ],
  ])('%j is %s', (value, words) => expect(valueWords(plan, value)).toBe(words))
  it('things are called by what people call them', () => {
    expect(nameOfId(plan, 'switch.2')).toBe('Cupboard switch port 2')
    expect(nameOfId(plan, 'l-ap')).toBe('Cupboard switch port 2 to Quay AP port eth0')
    expect(nameOfId(plan, 'int-visitors-internet')).toBe('Visitors to internet')
    expect([
      wordsForTop('links'),
      wordsForTop('else'),
      wordsForField('vlanId'),
      wordsForField('handOff.vlan'),
      wordsForField('name'),
    ]).toEqual(['cable', 'else', 'VLAN', 'hand-off, vlan', 'name'])
  })
})
