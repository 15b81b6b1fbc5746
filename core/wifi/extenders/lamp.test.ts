import { describe, expect, it } from 'vitest'
import { catalogue } from '../../plan'
import { bestOutlets, standAt, type ExtenderCase } from './extending'
import { FROM_PERCENT, isLinkState, lampAdvice, linkStateAt } from './lamp'

const spoken = { generation: 5, widthMhz: 20, streams: 2 } as const
const c: ExtenderCase = {
  point: { at: { x: 0, y: 0 }, aboveM: 1, mhz: 5500, eirpDbm: 20, beam: null },
  pointSpoken: spoken,
  eirpDbm: 20,
  spoken,
  aboveM: 0,
  radios: 1,
  spot: { x: 60, y: 0 },
  client: spoken,
  walls: [],
  law: { coefficient: 30 },
}
const outlets = [5, 14, 30, 45].map((x) => ({ x, y: 0 }))

describe('the lamp of an extender', () => {
  it('is in the catalogue with all that it says', () => {
    expect(
      catalogue['extender-2x2']!.lights.filter((l) => isLinkState(l.state)).map((l) => l.state),
    ).toEqual(Object.keys(FROM_PERCENT))
  })
  it('is fine, or sends to an outlet that is better', () => {
    const far = standAt(c, { x: 45, y: 0 })
    const list = bestOutlets(c, outlets, 'two-stage')
    expect(lampAdvice(linkStateAt(far.percent), far, list, 'two-stage')).toMatchObject({
      isFine: false,
      next: { at: list[0]!.at },
      text: expect.stringMatching(/^Try the outlet at/),
    })
    expect(lampAdvice('link-good', standAt(c, { x: 5, y: 0 }), list, 'two-stage')).toMatchObject({
      isFine: true,
      text: 'It may stay here.',
    })
    // The other school is content with half.
    expect(lampAdvice('link-fair', far, list, 'half').isFine).toBe(true)
    expect(lampAdvice('link-fair', far, list, 'two-stage').isFine).toBe(false)
  })
  it('that says other than the plan tells of what is not drawn', () => {
    const near = standAt(c, { x: 5, y: 0 })
    const list = bestOutlets(c, outlets.slice(0, 1), 'two-stage')
    expect(lampAdvice('link-poor', near, list, 'two-stage').text).toMatch(
      /something on the way takes more than is drawn.*No outlet that is drawn/,
    )
    expect(lampAdvice('link-good', standAt(c, { x: 50, y: 0 }), list, 'half').text).toMatch(
      /it is better/,
    )
  })
})
