import { expect, it } from 'vitest'
import { sheets, stillOpen, type SiteStanding } from '.'

const done: SiteStanding = {
  plan: null,
  counts: { survey: { blockers: 0, cautions: 2 } },
  steps: { all: 3, done: 3 },
  devices: { all: 2, begun: 2, inService: 2, wrong: 0, unsent: 0, isSending: false },
  proof: { contradicts: 0, untested: 0, isProven: true, isCurrent: true },
}
const mark = (s: SiteStanding): string => sheets.find((x) => x.id === 'hand-over')!.mark(s).word

it('a site that is proven, with everything done and sent, can be handed over', () => {
  expect(stillOpen(done)).toEqual([])
  expect(mark(done)).toBe('ready')
})
it.each([
  [{ counts: { survey: { blockers: 1, cautions: 0 } } }, '1 blocker is in the plan'],
  [{ steps: { all: 3, done: 1 } }, '2 steps of the run sheet are not done'],
  [{ devices: { ...done.devices, wrong: 1 } }, '1 device is lost, drifted or unknown'],
  [{ devices: { ...done.devices, unsent: 2 } }, 'changes for 2 devices were not sent'],
  [{ proof: null }, 'the proof has not run'],
  [{ proof: { ...done.proof!, isCurrent: false } }, 'the proof is of an older plan than this'],
  [{ proof: { ...done.proof!, contradicts: 1 } }, '1 result of the proof contradicts the plan'],
  [{ proof: { ...done.proof!, untested: 4 } }, '4 tests of the proof could not be tried'],
] as const)('%j keeps from it, and is said', (change, text) => {
  const standing = { ...done, ...change } as SiteStanding
  expect(stillOpen(standing).map((o) => o.text)).toEqual([text])
  expect(mark(standing)).toBe('not yet')
})
it('devices that were claimed are not nothing, though none is in service', () => {
  const adopt = (devices: Partial<SiteStanding['devices']>): string =>
    sheets
      .find((x) => x.id === 'adopt')!
      .mark({ ...done, devices: { ...done.devices, inService: 0, ...devices } }).word
  expect(adopt({ begun: 0 })).toBe('nothing yet')
  expect(adopt({ begun: 1 })).toBe('0 of 2')
  expect(adopt({ begun: 2, wrong: 2 })).toBe('2 to look at')
})
