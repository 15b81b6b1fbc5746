import fc from 'fast-check'
import { applyPatches as immerApply, enablePatches, produceWithPatches, type Draft } from 'immer'
import { describe, expect, it } from 'vitest'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import {
  applyRawEdit,
  edits,
  idSchema,
  isInherited,
  runChange,
  runPatches,
  type Change,
  type PlanPatch,
} from '.'
import { applyPatches, PatchRefused } from './patches'

enablePatches()
const inherited = Object.getOwnPropertyNames(Object.prototype)
const refused = (
  path: (string | number)[],
  op: PlanPatch['op'] = 'replace',
  value: unknown = 1,
): void => {
  const document = { list: [1, 2, 3], map: { a: { b: 1 } } }
  const before = JSON.stringify(document)
  expect(() => applyPatches(document, [{ op, path, value }]), `${op} ${path.join('.')}`).toThrow(
    PatchRefused,
  )
  expect(JSON.stringify(document)).toBe(before)
}

describe('patches', () => {
  it('touch whole indices within a list and nothing else of it', () => {
    for (const value of [10_000_000, 4_000_000_000, 0, 3])
      refused(['list', 'length'], 'replace', value)
    for (const key of ['-', '0', -1, 1.5, 4, Number.NaN, Infinity]) refused(['list', key], 'add')
    for (const key of [3, 4, 1e9])
      for (const op of ['replace', 'remove'] as const) refused(['list', key], op)
    refused(['list', 'length', 'a'])
    expect(
      applyPatches({ list: [1, 2, 3] }, [{ op: 'add', path: ['list', 3], value: 4 }]).document,
    ).toEqual({ list: [1, 2, 3, 4] })
  })
  it('walk along keys that objects themselves have', () => {
    for (const name of inherited) {
      refused(['map', name, 'x'])
      refused(['map', name], 'remove')
      refused([name, 'x'])
    }
    refused(['map', '__proto__'], 'add', { isAdmin: true })
    refused(['map', 'a', 'b', 'c'])
    refused(['map', 0], 'add')
    expect(({} as { x?: unknown }).x).toBeUndefined()
  })
  it('are not stopped by a key that an earlier version took: what it wrote is read', () => {
    const { document, inverse } = applyPatches({ devices: {} }, [
      { op: 'add', path: ['devices', 'constructor'], value: { name: 'Constructor' } },
      { op: 'replace', path: ['devices', 'constructor', 'name'], value: 'New' },
    ])
    expect(Object.hasOwn((document as { devices: object }).devices, 'constructor')).toBe(true)
    expect(document).toEqual({ devices: { ['constructor']: { name: 'New' } } })
    expect(applyPatches(document, inverse).document).toEqual({ devices: {} })
  })
  it(
    'do what immer does with those that it makes itself, lead back by their inverse, and share ' +
      'what they leave alone',
    () => {
      type Doc = Record<string, unknown[] | Record<string, unknown>>
      const leaf = fc.oneof(
        fc.integer(),
        fc.string({ maxLength: 3 }),
        fc.constant(null),
        fc.record({ deep: fc.integer() }),
      )
      const doc = fc.dictionary(
        fc.constantFrom('a', 'b', 'c', 'd'),
        fc.oneof(
          fc.array(leaf, { maxLength: 5 }),
          fc.dictionary(fc.constantFrom('x', 'y', 'z'), leaf),
        ),
        { noNullPrototype: true },
      ) as fc.Arbitrary<Doc>
      fc.assert(
        fc.property(doc, doc, fc.array(fc.nat(20), { maxLength: 6 }), (before, other, picks) => {
          const [after, patches] = produceWithPatches(before, (draft: Draft<Doc>) => {
            for (const p of picks) {
              const key = ['a', 'b', 'c', 'd'][p % 4]!
              const [mine, theirs] = [draft[key], other[key]]
              if (Array.isArray(mine) && Array.isArray(theirs))
                mine.splice(p % (mine.length + 1), p % 3, ...theirs)
              else if (theirs) draft[key] = theirs
              else delete draft[key]
            }
          })
          const ours = applyPatches(before, patches)
          expect(ours.document).toEqual(after)
          expect(ours.document).toEqual(immerApply(before, patches))
          expect(applyPatches(ours.document, ours.inverse).document).toEqual(before)
          expect(applyPatches(before, ours.patches).document).toEqual(after)
          for (const key of Object.keys(before))
            if (!patches.some((x) => x.path[0] === key))
              expect((ours.document as Doc)[key]).toBe(before[key])
        }),
      )
    },
  )
  it(
    "of which twenty thousand move the same long list are done in a moment's work: a list is " +
      'moved as a whole, not element by element through a proxy',
    () => {
      const list = Array.from({ length: 1000 }, (_, i) => i)
      const back = applyPatches(
        { list },
        Array.from({ length: 20_000 }, (_, n): PlanPatch =>
          n % 2 === 0
            ? { op: 'add', path: ['list', 0], value: n }
            : { op: 'remove', path: ['list', 0] },
        ),
      )
      expect(back.document).toEqual({ list })
    },
  )
})

describe('names that every object of the language has', () => {
  const patch = (p: PlanPatch): Change => ({
    id: '5f0c1b9e-6f3d-4c35-9d7e-0d6f0d5e6a01',
    kind: 'patches',
    summary: 'x',
    patches: [p as never],
  })
  it('are no ids', () => {
    for (const name of inherited) {
      expect(isInherited(name)).toBe(true)
      expect(idSchema.safeParse(name).success, name).toBe(false)
    }
  })
  it('come into a plan by no patch', () => {
    const plan = dunlinSlipway()
    for (const name of inherited)
      expect(
        runChange(
          plan,
          patch({
            op: 'add',
            path: ['locations', name],
            value: { ...Object.values(plan.locations)[0], id: name },
          }),
        ).ok,
        name,
      ).toBe(false)
    expect(
      runPatches(
        plan,
        [{ op: 'replace', path: ['segments', 'crew', 'pools', 'length'], value: 4_000_000_000 }],
        'x',
      ),
    ).toMatchObject({ ok: false })
  })
  it('are taken by no edit, whatever edit it is, and the language stays as it was', () => {
    const before = inherited.map((n) => Object.getOwnPropertyDescriptor(Object.prototype, n))
    const functionKeys = Object.getOwnPropertyNames(Object)
    for (const name of edits.keys())
      for (const id of ['constructor', '__proto__', 'toString']) {
        const given = {
          id,
          name: 'x',
          changes: { name: 'x', vlanId: 7 },
          deviceId: id,
          segmentId: id,
          uplinkId: id,
          profileId: id,
          portId: id,
          portIds: [id],
          linkId: id,
          facts: { vlan: 3 },
          kind: 'building',
          mains: true,
        }
        expect(applyRawEdit(dunlinSlipway(), { name, args: given }).ok, `${name} ${id}`).toBe(false)
      }
    expect(inherited.map((n) => Object.getOwnPropertyDescriptor(Object.prototype, n))).toEqual(
      before,
    )
    expect(Object.getOwnPropertyNames(Object)).toEqual(functionKeys)
  })
})
