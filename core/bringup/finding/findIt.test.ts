import { describe, expect, it } from 'vitest'
import { quayside } from '../../../tests/sites/quayside'
import { applyEdits } from '../../plan'
import type { Sighting } from '../../survey'
import { siteModel } from '../../topology'
import { gearOf } from '../gear'
import { findIt } from './findIt'
import { deviceOfLabel } from './ofLabel'

const automatic = applyEdits(quayside(), [
  {
    name: 'changeDevice',
    args: {
      id: 'quay-ap',
      changes: {
        addressing: { mode: 'automatic', segmentId: 'office-net', address: null, gateway: null },
      },
    },
  },
])
const model = siteModel(automatic)
const asking = gearOf(model).filter((d) => d.id === 'quay-ap')
const mac = automatic.devices['quay-ap']!.hardwareAddress!
const saw = (address: string, hardwareAddress: string | null, line = 1): Sighting => ({
  ...{ address, hardwareAddress, line, name: null },
})

describe('finding it', () => {
  it('says the guess alone while nothing was read', () => {
    const [ap] = findIt(model, asking, []).devices
    expect(ap).toMatchObject({ seenAt: null, says: null, because: 'the lowest that is free' })
  })
  it('points it out by its hardware address where the guess was wrong, and guesses that next time', () => {
    const guess = findIt(model, asking, []).devices[0]!.guess!
    const elsewhere = guess.replace(/\d+$/, (n) => String(Number(n) + 7))
    const [ap] = findIt(model, asking, [saw(elsewhere, mac)]).devices
    expect(ap).toMatchObject({ seenAt: elsewhere, guess: elsewhere, because: 'it had it before' })
    expect(ap!.says).toBeNull()
  })
  it('says so where it is outside what is handed out', () => {
    const [ap] = findIt(model, asking, [saw('192.168.2.20', mac)]).devices
    expect(ap!.says).toBe('It is at 192.168.2.20, not where it was guessed.')
  })
  it('leaves out of the guess what somebody else holds', () => {
    const guess = findIt(model, asking, []).devices[0]!.guess!
    const [ap] = findIt(model, asking, [saw(guess, '00:00:5e:00:53:01')]).devices
    expect(ap!.guess).not.toBe(guess)
    expect(ap!.says).toMatch(/^Not seen yet/)
  })
  it('tells of two that answer at one address: laptops, devices of one kind, or one of each', () => {
    const at = (...macs: string[]): string =>
      findIt(
        model,
        asking,
        macs.map((m, i) => saw('192.168.1.10', m, i + 1)),
      ).doubles[0]?.says ?? ''
    const [one, other] = ['00:00:5e:00:53:01', '00:00:5e:00:53:02']
    const second = model.devices.find((d) => d.hardwareAddress && d.hardwareAddress !== mac)!
    expect(at(one, other)).toMatch(
      /^00:00:5e:00:53:01 and 00:00:5e:00:53:02 both answer.*Two laptops/,
    )
    expect(at(mac, one)).toMatch(/a laptop that was given the address of a device\?$/)
    expect(at(mac, second.hardwareAddress!)).toMatch(/Leave one of them with power/)
    // The same one twice is one.
    expect(at(one, one.toUpperCase())).toBe('')
  })
  it('tells strangers apart: phones, addresses alone, and what may be the one without a label', () => {
    const seen = [
      saw('10.20.20.50', '02:00:5e:00:53:01'),
      saw('10.20.20.51', null, 2),
      saw('10.20.20.52', '00:00:5e:00:53:02', 3),
    ]
    expect(findIt(model, asking, seen).strangers.map((s) => s.says)).toEqual([
      expect.stringMatching(/made up by itself/),
      expect.stringMatching(/Only its address answered/),
      expect.stringMatching(/Nobody planned it: find out whose/),
    ])
    const unread = siteModel(
      applyEdits(automatic, [
        { name: 'changeDevice', args: { id: 'quay-ap', changes: { hardwareAddress: null } } },
      ]),
    )
    const found = findIt(unread, [unread.device('quay-ap')], seen)
    expect(found.devices[0]!.says).toMatch(/read its label/)
    expect(found.strangers[2]!.says).toMatch(/one whose label was not read: Quay AP/)
  })
})

describe('a label', () => {
  const plan = quayside()
  const serial = plan.devices.switch!.serial!
  it.each([serial, ` ${serial.toLowerCase()} `])('%s leads to its device', (text) =>
    expect(deviceOfLabel(plan, text, null).device?.id).toBe('switch'),
  )
  it('leads there by its hardware address too', () =>
    expect(deviceOfLabel(plan, 'x', mac).device?.id).toBe('quay-ap'))
  it('mistyped says whose it nearly is, and of a stranger that it is none', () => {
    expect(deviceOfLabel(plan, `${serial.slice(0, -1)}X`, null)).toMatchObject({
      device: null,
      says: expect.stringMatching(/Cupboard switch has .* differs in 1 place/),
    })
    expect(deviceOfLabel(plan, 'NOBODY-1', null).says).toMatch(/Is it of this site\?/)
  })
})
