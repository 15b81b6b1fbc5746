import { describe, expect, it } from 'vitest'
import { PLAN_VERSION, applyEdit, digestOf, replayPatches, type SitePlan } from '@mast/core/plan'
import petrel from '../../tests/sites/petrelVersion1.json'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { readSiteFile, writeSiteFile, type SiteContent } from './siteFile'

const at = '2026-11-24T09:00:00.000Z'
function content(): SiteContent {
  let plan: SitePlan = dunlinSlipway()
  const revisions: SiteContent['revisions'] = [
    { number: 1, summary: 'Site opened', author: 'a', at, patches: [], inverse: [] },
  ]
  for (const name of ['One', 'Two']) {
    const outcome = applyEdit(plan, {
      name: 'changeDevice',
      args: { id: 'switch', changes: { name } },
    })
    if (!outcome.ok) throw new Error()
    revisions.push({
      number: revisions.length + 1,
      summary: outcome.summary,
      author: null,
      at,
      patches: outcome.patches as never,
      inverse: outcome.inverse as never,
    })
    plan = outcome.plan
  }
  return JSON.parse(
    JSON.stringify({
      exportedAt: at,
      clockSpeed: 1,
      first: dunlinSlipway(),
      revisions,
      steps: [],
      evidence: [],
      trail: [],
      secrets: null,
    }),
  ) as SiteContent
}
const resealed = (change: (c: SiteContent) => void): unknown => {
  const c = content()
  change(c)
  return writeSiteFile(c)
}

describe('a site file', () => {
  it('gives every revision back, made anew from the first', () => {
    const read = readSiteFile(JSON.parse(JSON.stringify(writeSiteFile(content()))))
    expect(read.ok && read.revisions.map((r) => [r.number, r.plan.devices.switch!.name])).toEqual([
      [1, 'Hut switch'],
      [2, 'One'],
      [3, 'Two'],
    ])
  })
  it(
    'with revisions of an earlier version of the plan document gives them in this one, each ' +
      'with what it changed',
    () => {
      const name = { path: ['devices', 'gateway', 'name'], op: 'replace' }
      const hut = { id: 'hut', name: 'Hut', kind: 'building', mains: true }
      const c = resealed((x) => {
        x.first = petrel
        x.revisions = [
          {
            number: 1,
            summary: 'Site opened',
            author: null,
            at,
            patches: [],
            inverse: [],
            version: 1,
          },
          {
            number: 2,
            summary: 'A hut',
            author: null,
            at,
            patches: [{ op: 'add', path: ['locations', 'hut'], value: hut }],
            inverse: [{ op: 'remove', path: ['locations', 'hut'] }],
            version: 1,
          },
          {
            number: 3,
            summary: 'Outlets counted',
            author: null,
            at,
            patches: [{ op: 'replace', path: ['locations', 'hut', 'outlets'], value: 4 }],
            inverse: [{ op: 'replace', path: ['locations', 'hut', 'outlets'], value: null }],
            version: 2,
          },
          {
            number: 4,
            summary: 'Renamed',
            author: null,
            at,
            patches: [{ ...name, value: 'New' } as never],
            inverse: [{ ...name, value: petrel.devices.gateway.name } as never],
            version: 2,
          },
        ]
      })
      const read = readSiteFile(JSON.parse(JSON.stringify(c)))
      if (!read.ok) throw new Error(read.reason)
      expect(
        read.revisions.map((r) => [
          r.plan.version,
          r.plan.locations.hut?.outlets,
          r.plan.devices.gateway!.name,
        ]),
      ).toEqual([
        [PLAN_VERSION, undefined, 'Shop gateway'],
        [PLAN_VERSION, null, 'Shop gateway'],
        [PLAN_VERSION, 4, 'Shop gateway'],
        [PLAN_VERSION, 4, 'New'],
      ])
      for (const [i, r] of read.revisions.entries()) {
        if (i === 0) continue
        const before = read.revisions[i - 1]!.plan
        expect(digestOf(replayPatches(before, r.patches)), `forward to ${r.number}`).toBe(
          digestOf(r.plan),
        )
        expect(digestOf(replayPatches(r.plan, r.inverse)), `back from ${r.number}`).toBe(
          digestOf(before),
        )
      }
    },
  )
  it.each<[string, unknown, RegExp]>([
    [
      'a revision of an earlier version than the one before it',
      resealed((c) => {
        c.revisions[1]!.version = 1
      }),
      /revision 2 does not follow/,
    ],
    ['no file at all', 'text', /^this is not a site file/],
    [
      'another version',
      { ...writeSiteFile(content()), version: 2 },
      /^this is not a site file of this version/,
    ],
    [
      'another digest',
      { ...writeSiteFile(content()), digest: digestOf('x') },
      /its digest does not fit/,
    ],
    [
      'a gap in the revisions',
      resealed((c) => {
        c.revisions[2]!.number = 4
      }),
      /4 stands where 3 is due/,
    ],
    [
      'a patch that does not apply',
      resealed((c) => {
        c.revisions[1]!.patches = [
          { op: 'replace', path: ['devices', 'nobody', 'name'], value: 'x' },
        ]
      }),
      /revision 2 does not follow/,
    ],
    [
      'a patch that makes the plan wrong',
      resealed((c) => {
        c.revisions[1]!.patches = [
          { op: 'replace', path: ['segments', 'crew', 'vlanId'], value: 5000 },
        ]
      }),
      /revision 2 does not follow.*VLAN ids end at 4094/,
    ],
    [
      'a broken first plan',
      resealed((c) => {
        ;(c.first as { version: number }).version = 99
      }),
      /its first plan cannot be used/,
    ],
    [
      'evidence that is no base64',
      resealed((c) => {
        c.evidence = [
          {
            kind: 'photo',
            source: 'person',
            at,
            revision: 1,
            by: null,
            stepId: null,
            body: {},
            file: '<script>',
            mediaType: null,
          },
        ]
      }),
      /the file is damaged/,
    ],
    [
      'two pieces of evidence under one id',
      resealed((c) => {
        const note = {
          ...{ id: 'f8a4a11e-6df1-4c7a-9d0e-0a6f7f3d2b01', kind: 'note' as const, at },
          ...{ source: 'person', revision: 1, by: null, stepId: null, body: {} },
          ...{ file: null, mediaType: null },
        }
        c.evidence = [note, note]
      }),
      /have the same id/,
    ],
    [
      'a page in place of a photograph',
      resealed((c) => {
        c.evidence = [
          {
            kind: 'photo',
            source: 'person',
            at,
            revision: 1,
            by: null,
            stepId: null,
            body: {},
            file: Buffer.from('<script>').toString('base64'),
            mediaType: 'text/html',
          },
        ]
      }),
      /is not the picture that it claims to be/,
    ],
  ])('refuses %s', (_, value, reason) => {
    const read = readSiteFile(value)
    expect(read.ok ? '' : read.reason).toMatch(reason)
  })
})
