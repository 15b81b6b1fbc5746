import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../../demo/kittiwakeHarbour'
import { applyEdits, editCall } from '../../plan'
import { siteModel } from '../../topology'
import { channelsAnew } from './anew'
import { planChannels } from './plan'

const harbour = kittiwakeHarbour()
const settled = applyEdits(
  harbour,
  Object.values(harbour.devices).flatMap((d) =>
    d.place
      ? [editCall('changeDevice', { id: d.id, changes: { place: { ...d.place, stays: true } } })]
      : [],
  ),
)

describe('channels planned anew', () => {
  it('disturb less, and a second time there is nothing to do', () => {
    const { edits, text } = channelsAnew(siteModel(settled))
    expect(text).toMatch(/^Channels planned anew: \d+ radios change$/)
    const after = siteModel(applyEdits(settled, [...edits]))
    for (const band of ['2.4', '5'] as const)
      expect(planChannels(after, band).costNow).toBeLessThanOrEqual(
        planChannels(siteModel(settled), band).costNow,
      )
    expect(planChannels(after, '5').sharedNow).toBe(0)
    expect(channelsAnew(after)).toEqual({ edits: [], text: 'no other channels disturb less' })
  })
  it('wait until all hang where they stay', () => {
    const [one] = Object.values(settled.devices).filter((d) => d.id === 'ice-ap')
    const loose = applyEdits(settled, [
      editCall('changeDevice', {
        id: one!.id,
        changes: { place: { ...one!.place!, stays: false } },
      }),
    ])
    expect(channelsAnew(siteModel(loose))).toMatchObject({
      edits: [],
      text: expect.stringMatching(/^Ice House AP does not hang where it stays yet/),
    })
  })
})
