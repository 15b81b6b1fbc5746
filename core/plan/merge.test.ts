import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import {
  editCall as call,
  applyEdits,
  canonicalJson,
  comparePlans,
  doEdit,
  emptyHistory,
  mergeChanges,
  parsePlan,
  patchesBetween,
  runChange,
  runPatches,
  shared,
  thingOf,
  thingsOf,
  undo,
  valueOf,
  withoutOvertaken,
  type Change,
  type Merge,
  type SitePlan,
  type RevisionSince,
} from '.'

const base = quayside()
let serial = 0
const change = (name: string, args: unknown): Change => ({
  id: `00000000-0000-4000-8000-${String(++serial).padStart(12, '0')}`,
  kind: 'edit',
  name,
  args,
})
const renameDevice = (id: string, name: string): Change =>
  change('changeDevice', { id, changes: { name } })

/** What somebody else did to the base, as revisions. */
function their(...changes: Change[]): { head: SitePlan; revisions: RevisionSince[] } {
  let head = base
  const revisions = changes.map((c, i): RevisionSince => {
    const outcome = runChange(head, c)
    if (!outcome.ok) throw new Error(outcome.problems[0]!.reason)
    head = outcome.plan
    return {
      number: 2 + i,
      changeId: c.id,
      summary: outcome.summary,
      author: 'the other',
      patches: outcome.patches,
    }
  })
  return { head, revisions }
}
function merged(theirs: Change[], mine: Change[]): Merge {
  const { head, revisions } = their(...theirs)
  return mergeChanges(base, head, revisions, mine)
}

describe('merging', () => {
  it('does edits of other things again on the newest plan', () => {
    const m = merged(
      [renameDevice('switch', 'Rack switch')],
      [
        change('changeDevice', { id: 'switch', changes: { locationId: 'office' } }),
        renameDevice('printer', 'Big printer'),
      ],
    )
    expect(m.conflicts).toEqual([])
    expect(m.steps.map((s) => s.summary)).toEqual([
      'Change locationId of Rack switch',
      'Change name of Office printer',
    ])
    expect(m.plan.devices.switch).toMatchObject({ name: 'Rack switch', locationId: 'office' })
    expect(m.plan.devices.printer!.name).toBe('Big printer')
  })
  it('gives back an edit of the same thing with all three values and who was first', () => {
    const m = merged(
      [renameDevice('switch', 'Rack switch')],
      [renameDevice('switch', 'Hall switch')],
    )
    expect(m.steps).toEqual([])
    expect(m.conflicts).toMatchObject([
      {
        summary: 'Change name of Cupboard switch',
        reason: null,
        by: [{ number: 2, author: 'the other', summary: 'Change name of Cupboard switch' }],
        things: [
          {
            top: 'devices',
            id: 'switch',
            part: 'name',
            before: 'Cupboard switch',
            mine: 'Hall switch',
            theirs: 'Rack switch',
          },
        ],
      },
    ])
    expect(m.plan.devices.switch!.name).toBe('Rack switch')
  })
  it('takes the subnet, gateway and pool of a segment as one thing', () => {
    const m = merged(
      [change('setPool', { segmentId: 'cameras', first: '10.20.40.50', last: '10.20.40.60' })],
      [change('setGateway', { segmentId: 'cameras', gateway: '10.20.40.254' })],
    )
    expect(m.conflicts[0]!.things[0]).toMatchObject({
      part: 'addresses',
      mine: { gateway: '10.20.40.254' },
      theirs: { pools: [{ first: '10.20.40.50', last: '10.20.40.60' }] },
    })
  })
  it('finds a conflict that shows only on the newest plan: one cell of the grid stated twice under other ids', () => {
    const state = (id: string, action: string): Change =>
      change('stateIntent', {
        id,
        from: 'cameras',
        to: 'office-net',
        services: 'any',
        action,
        reason: '',
      })
    const m = merged([state('theirs-x', 'deny')], [state('mine-x', 'allow')])
    expect(m.conflicts).toHaveLength(1)
    expect(
      Object.values(m.plan.intents)
        .filter((i) => i.from === 'cameras' && i.to === 'office-net')
        .map((i) => i.action),
    ).toEqual(['deny'])
  })
  it('gives back what cannot be done on their plan, with the reason', () => {
    const m = merged(
      [change('removeDevice', { id: 'printer' })],
      [renameDevice('printer', 'Big printer')],
    )
    expect(m.conflicts).toMatchObject([
      {
        reason: expect.stringContaining('removed meanwhile'),
        things: [{ theirs: undefined, mine: 'Big printer' }],
      },
    ])
    const plug = (id: string, b: string): Change =>
      change('addLink', { id, a: 'kiosk-switch.3', b, medium: 'copper', lengthM: 2 })
    expect(
      merged([plug('l-one', 'switch.sfp1')], [plug('l-two', 'gateway.3')]).conflicts[0]!.reason,
    ).toMatch(/has the cable 'l-(one|two)' in it already/)
  })
  it('removing what another worked on is a conflict, both ways', () => {
    expect(
      merged([renameDevice('printer', 'Big printer')], [change('removeDevice', { id: 'printer' })])
        .conflicts,
    ).toHaveLength(1)
    expect(
      merged(
        [change('addTag', { segmentId: 'visitors', portIds: ['switch.2'] })],
        [change('removeSegment', { id: 'visitors' })],
      ).conflicts,
    ).toHaveLength(1)
  })
  it('holds back what builds on a conflict, not what stands apart', () => {
    const m = merged(
      [renameDevice('switch', 'A')],
      [renameDevice('switch', 'B'), renameDevice('switch', 'C'), renameDevice('gateway', 'D')],
    )
    expect(m.conflicts.map((c) => c.things[0]!.mine)).toEqual(['B', 'C'])
    expect(m.plan.devices.gateway!.name).toBe('D')
  })
  it('takes back what was saved before without its answer, though the base is as it was', () => {
    const there = renameDevice('switch', 'A')
    const { head, revisions } = their(there, renameDevice('printer', 'B'))
    const m = mergeChanges(base, head, revisions, [
      there,
      renameDevice('switch', base.devices.switch!.name),
    ])
    expect([m.steps.length, m.conflicts, m.plan.devices.switch!.name]).toEqual([
      1,
      [],
      base.devices.switch!.name,
    ])
  })
  it('names what was never possible', () => {
    expect(merged([], [renameDevice('nobody', 'X')]).refused[0]!.problems[0]!.reason).toMatch(
      /there is no device 'nobody'/,
    )
  })
})

/** Edits that are possible on the demo, in any order. */
const anyEdit: fc.Arbitrary<[string, unknown]> = fc.oneof(
  fc
    .tuple(
      fc.constantFrom('gateway', 'switch', 'quay-ap', 'printer', 'harbour-desk'),
      fc.constantFrom('One', 'Two', 'Three'),
    )
    .map(([id, name]): [string, unknown] => ['changeDevice', { id, changes: { name } }]),
  fc
    .tuple(
      fc.constantFrom('gateway', 'switch', 'printer'),
      fc.constantFrom('office', 'quay', 'kiosk'),
    )
    .map(([id, locationId]): [string, unknown] => [
      'changeDevice',
      { id, changes: { locationId } },
    ]),
  fc
    .tuple(fc.constantFrom('cameras', 'visitors', 'office-net'), fc.integer({ min: 5, max: 200 }))
    .map(([id, expectedHosts]): [string, unknown] => [
      'changeSegment',
      { id, changes: { expectedHosts } },
    ]),
  fc
    .constantFrom('cameras', 'visitors')
    .map((id): [string, unknown] => ['allocateSegments', { segmentIds: [id] }]),
  fc
    .tuple(
      fc.constantFrom('cameras', 'visitors', 'office-net'),
      fc.constantFrom('gateway.2', 'switch.2', 'switch.sfp1'),
    )
    .map(([segmentId, p]): [string, unknown] => ['setUntagged', { segmentId, portIds: [p] }]),
  fc
    .constantFrom('printer', 'quay-camera', 'switch', 'quay-ap')
    .map((id): [string, unknown] => ['removeDevice', { id }]),
  fc.constantFrom('cameras', 'visitors').map((id): [string, unknown] => ['removeSegment', { id }]),
  fc
    .tuple(fc.constantFrom('GB', 'NO'), fc.constantFrom('first', 'last'))
    .map(([country, gatewayPosition]): [string, unknown] => [
      'changeSite',
      { country, preferences: { gatewayPosition } },
    ]),
  fc
    .tuple(
      fc.constantFrom('cameras', 'visitors'),
      fc.constantFrom('office-net', 'internet'),
      fc.constantFrom('allow', 'deny'),
    )
    .map(([from, to, action]): [string, unknown] => [
      'stateIntent',
      { id: `p-${from}-${to}`, from, to, services: 'any', action, reason: '' },
    ]),
)
/** The changes of a line of work that are possible one after the other. */
function possible(list: readonly [string, unknown][]): Change[] {
  let plan = base
  return list.flatMap(([name, args]) => {
    const c = change(name, args)
    const outcome = runChange(plan, c)
    if (!outcome.ok || outcome.patches.length === 0) return []
    plan = outcome.plan
    return [c]
  })
}

/** Revisions made of changes on a plan, those that are possible. */
function revisionsOn(
  plan: SitePlan,
  changes: readonly Change[],
  from: number,
  author: string,
): { head: SitePlan; revisions: RevisionSince[] } {
  const revisions: RevisionSince[] = []
  let head = plan
  for (const c of changes) {
    const outcome = runChange(head, c)
    if (!outcome.ok || outcome.patches.length === 0) continue
    head = outcome.plan
    revisions.push({
      number: from + revisions.length,
      changeId: c.id,
      summary: outcome.summary,
      author,
      patches: outcome.patches,
    })
  }
  return { head, revisions }
}

describe('any two lines of work', () => {
  it('come to the same whether the answers to the first changes arrived or were lost', () => {
    fc.assert(
      fc.property(
        fc.array(anyEdit, { maxLength: 6 }),
        fc.nat(6),
        fc.array(anyEdit, { maxLength: 4 }),
        (a, count, b) => {
          const mine = possible(a)
          const [sent, rest] = [mine.slice(0, count), mine.slice(count)]
          const ours = revisionsOn(base, sent, 2, 'me')
          const theirs = revisionsOn(
            ours.head,
            b.map(([name, args]) => change(name, args)),
            2 + ours.revisions.length,
            'the other',
          )
          const arrived = mergeChanges(ours.head, theirs.head, theirs.revisions, rest)
          const lost = mergeChanges(
            base,
            theirs.head,
            [...ours.revisions, ...theirs.revisions],
            mine,
          )
          expect(lost).toEqual(arrived)
        },
      ),
      { numRuns: 300 },
    )
  })
  it('never lose or overwrite what was saved first, and give a valid plan', () => {
    fc.assert(
      fc.property(
        fc.array(anyEdit, { maxLength: 5 }),
        fc.array(anyEdit, { maxLength: 5 }),
        (a, b) => {
          const { head, revisions } = their(...possible(a))
          const m = mergeChanges(base, head, revisions, possible(b))
          expect(parsePlan(m.plan).ok).toBe(true)
          const touched = revisions.flatMap((r) => thingsOf(r.patches))
          for (const t of touched)
            expect(valueOf(m.plan, t), `${t.top}/${t.id}/${t.part}`).toEqual(valueOf(head, t))
          expect(m.steps.every((s) => shared(thingsOf(s.patches), touched).length === 0)).toBe(true)
        },
      ),
      { numRuns: 300 },
    )
  })
  it('account for every change: saved, in conflict, or without effect', () => {
    fc.assert(
      fc.property(
        fc.array(anyEdit, { maxLength: 4 }),
        fc.array(anyEdit, { maxLength: 4 }),
        (a, b) => {
          const { head, revisions } = their(...possible(a))
          const mine = possible(b)
          const m = mergeChanges(base, head, revisions, mine)
          const told = new Set([
            ...m.steps.map((s) => s.changeId),
            ...m.conflicts.map((c) => c.changeId),
            ...m.refused.map((r) => r.changeId),
          ])
          let plan = m.plan
          for (const c of mine.filter((x) => !told.has(x.id))) {
            const again = runChange(plan, c)
            expect(
              again.ok && again.patches,
              'a change that was not told of must be there already',
            ).toEqual([])
            if (again.ok) plan = again.plan
          }
        },
      ),
      { numRuns: 200 },
    )
  })
  it('meet at the same plan in either order where they do not meet in a thing', () => {
    const plain = fc.array(
      anyEdit.filter(([name]) => ['changeDevice', 'changeSegment', 'setUntagged'].includes(name)),
      { maxLength: 4 },
    )
    fc.assert(
      fc.property(plain, plain, (a, b) => {
        const [mine, yours] = [possible(a), possible(b)]
        const [x, y] = [their(...mine), their(...yours)]
        const m = mergeChanges(base, y.head, y.revisions, mine)
        const n = mergeChanges(base, x.head, x.revisions, yours)
        fc.pre(m.conflicts.length === 0 && n.conflicts.length === 0)
        expect(canonicalJson(m.plan)).toBe(canonicalJson(n.plan))
      }),
      { numRuns: 200 },
    )
  })
})

describe('comparing', () => {
  it('says what came, went and changed, with both values', () => {
    const after = applyEdits(base, [
      { name: 'removeDevice', args: { id: 'gate-camera' } },
      { name: 'changeSegment', args: { id: 'visitors', changes: { expectedHosts: 99 } } },
      { name: 'changeSite', args: { country: 'NO' } },
    ])
    expect(
      comparePlans(base, after).map((d) => [
        d.top,
        d.name,
        d.kind,
        d.fields.map((f) => `${f.field} ${String(f.before)} ${String(f.after)}`).join(),
      ]),
    ).toEqual([
      ['site', 'the site', 'changed', 'country GB NO'],
      ['devices', 'Gate camera', 'removed', ''],
      ['ports', 'gate-camera.eth0', 'removed', ''],
      ['links', 'l-gate', 'removed', ''],
      ['segments', 'Visitors', 'changed', 'expectedHosts 240 99'],
    ])
  })
  it('gives patches that lead from any plan to any other of the same site', () => {
    fc.assert(
      fc.property(
        fc.array(anyEdit, { maxLength: 6 }),
        fc.array(anyEdit, { maxLength: 6 }),
        (a, b) => {
          const [from, to] = [their(...possible(a)).head, their(...possible(b)).head]
          const patches = patchesBetween(from, to)
          const outcome = runPatches(from, patches, 'restore')
          expect(outcome.ok).toBe(true)
          if (outcome.ok) expect(canonicalJson(outcome.plan)).toBe(canonicalJson(to))
          expect(comparePlans(from, from)).toEqual([])
        },
      ),
      { numRuns: 200 },
    )
  })
})

describe('things', () => {
  it.each<[(string | number)[], string]>([
    [['site', 'name'], 'name'],
    [['site', 'preferences', 'gatewayPosition'], 'preferences.gatewayPosition'],
    [['devices', 'a', 'addressing', 'address'], 'address'],
    [['devices', 'a'], '*'],
    [['ports', 'a.1', 'taggedSegmentIds', 3], 'VLANs'],
    [['segments', 's', 'pools', 0, 'first'], 'addresses'],
    [['segments', 's', 'name'], 'name'],
    [['intents', 'i', 'rank'], '*'],
    [['uplinks', 'u', 'handOff', 'vlan'], 'handOff.vlan'],
    [['uplinks', 'u', 'handOff'], 'handOff'],
  ])('%j is %s', (path, part) => expect(thingOf(path).part).toBe(part))
  it('the whole hand-off meets any fact of it, the facts do not meet each other', () => {
    const [all, tag, mtu] = [['handOff'], ['handOff', 'vlan'], ['handOff', 'mtu']].map((p) =>
      thingOf(['uplinks', 'u', ...p]),
    ) as [ReturnType<typeof thingOf>, ReturnType<typeof thingOf>, ReturnType<typeof thingOf>]
    expect([
      shared([all], [tag]).length,
      shared([tag], [all]).length,
      shared([tag], [mtu]).length,
    ]).toEqual([1, 1, 0])
  })
})

it('undo keeps the steps that nobody overtook', () => {
  const one = doEdit(
    base,
    emptyHistory,
    call('changeDevice', { id: 'switch', changes: { name: 'A' } }),
  )
  if (!one.outcome.ok) throw new Error()
  const two = doEdit(
    one.outcome.plan,
    one.history,
    call('changeDevice', { id: 'printer', changes: { name: 'B' } }),
  )
  const left = withoutOvertaken(two.history, [thingOf(['devices', 'printer', 'name'])])
  expect(left.done.map((s) => s.summary)).toEqual(['Change name of Cupboard switch'])
  expect(two.outcome.ok && undo(two.outcome.plan, left)?.outcome).toMatchObject({
    ok: true,
    summary: 'Undo: Change name of Cupboard switch',
  })
})
