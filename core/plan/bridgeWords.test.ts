import { describe, expect, it } from 'vitest'
import { dishFive, elevenGhz, handFive, sectorFive, sixtyGhz } from './bridgeUnits'
import {
  addressRuleInWords,
  antennaInWords,
  channelsInWords,
  readAddressRule,
  readAntenna,
  readChannels,
  readSteps,
  stepsInWords,
} from './bridgeWords'

describe('what a radio for bridges can do, as it is typed', () => {
  it.each([
    ['dish', dishFive],
    ['sector', sectorFive],
    ['by hand', handFive],
    ['60 GHz', sixtyGhz],
    ['11 GHz', elevenGhz],
  ])('is read back as it was: %s', (_, unit) => {
    expect(readChannels(channelsInWords(unit.channels))).toEqual({ ok: true, value: unit.channels })
    expect(readSteps(stepsInWords(unit.steps))).toEqual({ ok: true, value: unit.steps })
    expect(readAntenna(antennaInWords(unit), unit.antenna.shape)).toEqual({
      ok: true,
      value: unit.antenna,
    })
    expect(readAddressRule(addressRuleInWords(unit))).toEqual({ ok: true, value: unit.address })
  })
  it('says what is wrong', () => {
    expect(readChannels('a b')).toMatchObject({
      reason: expect.stringMatching(/'a b' is no channel/),
    })
    expect(readSteps('20, QPSK, 13')).toMatchObject({ reason: expect.stringMatching(/^line 1/) })
    expect(readAntenna('large', 'dish')).toMatchObject({ ok: false })
    expect(readAddressRule('300.1.1.1 + 0 main + 1 far + 1 a channel')).toMatchObject({ ok: false })
  })
})
