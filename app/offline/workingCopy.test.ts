import fc from 'fast-check'
import { describe, expect, it, vi } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import {
  editCall,
  mergeChanges,
  runChange,
  shared,
  thingsOf,
  type Change,
  type SitePlan,
  type RevisionSince,
} from '@mast/core/plan'
import type { Base } from '@mast/api'
import {
  asMine,
  baseOf,
  disputed,
  firstBatch,
  stillDiffers,
  WorkingCopy,
  type Held,
  type Keep,
  type Kept,
  type Remote,
  type ServerCopy,
} from './workingCopy'

/** A server of one site, in memory, that merges as the real one does. */
class Server implements Remote {
  revisions: (RevisionSince & { changeId: string; plan: SitePlan; at: string })[] = []
  away = false
  /** How many saves are done whose answer does not arrive. */
  swallows = 0
  refuses: { status: number; data: object } | null = null
  saves = 0
  private clock = 0
  constructor(readonly first = quayside()) {}
  get head(): number {
    return this.revisions.length + 1
  }
  planAt(n: number): SitePlan {
    return n === 1 ? this.first : this.revisions[n - 2]!.plan
  }
  private reach(): void {
    if (this.away) throw Object.assign(new Error('no network'))
  }

  private moment(): string {
    return `2026-11-25T09:00:00.${String(++this.clock).padStart(6, '0')}Z`
  }
  private isKnown({ revision, at }: Base): boolean {
    return revision === 1 || this.revisions.some((r) => r.number === revision && r.at === at)
  }

  async fetch(_: string, since: Base | null) {
    this.reach()
    const missed =
      since && this.isKnown(since) ? this.revisions.filter((r) => r.number > since.revision) : null
    return {
      id: 's',
      role: 'engineer' as const,
      revision: this.head,
      plan: this.planAt(this.head),
      revisions: [...this.revisions].reverse(),
      since: since === null ? [] : missed,
    }
  }
  async save(_: string, { revision: base, at }: Base, changes: readonly Change[]) {
    this.reach()
    this.saves++
    if (this.refuses) throw Object.assign(new Error('refused'), this.refuses)
    if (!this.isKnown({ revision: base, at }))
      throw Object.assign(new Error('set back'), { status: 409, data: {} })
    const since = this.revisions.filter((r) => r.number > base)
    const before = new Set(this.revisions.filter((r) => r.number <= base).map((r) => r.changeId))
    const merge = mergeChanges(
      this.planAt(base),
      this.planAt(this.head),
      since,
      changes.filter((c) => !before.has(c.id)),
    )
    if (merge.refused[0])
      throw Object.assign(new Error('refused'), {
        status: 422,
        data: {
          message: 'no',
          data: { changeId: merge.refused[0].changeId, problems: merge.refused[0].problems },
        },
      })
    if (merge.conflicts.length > 0)
      throw Object.assign(new Error('conflict'), { status: 409, data: {} })
    for (const s of merge.steps)
      this.revisions.push({
        number: this.head + 1,
        summary: s.summary,
        author: 'me',
        patches: s.patches,
        changeId: s.changeId,
        plan: s.plan,
        at: this.moment(),
      })
    if (this.swallows-- > 0) throw new Error('the answer was lost')
    return {
      revision: this.head,
      merged: since.length > 0,
      made: this.revisions.filter((r) => changes.some((c) => c.id === r.changeId)),
    }
  }
  /** Somebody else saves. */
  other(name: string, args: object): void {
    const outcome = runChange(this.planAt(this.head), {
      id: crypto.randomUUID(),
      kind: 'edit',
      name,
      args,
    })
    if (!outcome.ok) throw new Error(outcome.problems[0]!.reason)
    this.revisions.push({
      number: this.head + 1,
      summary: outcome.summary,
      author: 'the other',
      patches: outcome.patches,
      changeId: crypto.randomUUID(),
      plan: outcome.plan,
      at: this.moment(),
    })
  }
}

class Drawer implements Keep {
  server: ServerCopy | undefined
  changes = new Map<
    string,
    { change: Change; conflict: Held['conflict'] | null; base: Base | null }
  >()
  async load(): Promise<Kept | undefined> {
    const all = [...this.changes.values()]
    const pending = all.filter((c) => !c.conflict)
    if (!this.server) return undefined
    const bases = pending.flatMap((c) => c.base ?? []).sort((a, b) => a.revision - b.revision)
    const newest = baseOf(this.server)
    const base = bases.find((b) => b.revision > newest.revision) ?? bases[0] ?? newest
    return structuredClone({
      server: this.server,
      base,
      pending: pending.map((c) => c.change),
      held: all.flatMap((c) => (c.conflict ? [{ change: c.change, conflict: c.conflict }] : [])),
    })
  }
  async putServer(
    server: ServerCopy,
    saved: readonly string[],
    pending: readonly string[],
    isOtherHistory = false,
  ) {
    for (const id of saved) this.changes.delete(id)
    for (const id of pending) this.changes.get(id)!.base = baseOf(server)
    if (!this.server || this.server.revision <= server.revision || isOtherHistory)
      this.server = structuredClone(server)
  }
  async putChanges(_: string, changes: readonly Change[], base: Base) {
    for (const change of changes)
      this.changes.set(change.id, structuredClone({ change, conflict: null, base }))
  }
  async hold(_: string, held: readonly Held[]) {
    for (const { change, conflict } of held)
      this.changes.set(change.id, structuredClone({ change, conflict, base: null }))
  }
  async remove(ids: readonly string[]) {
    for (const id of ids) this.changes.delete(id)
  }
}

const open = (server: Server, drawer = new Drawer()): Promise<WorkingCopy> =>
  WorkingCopy.open(
    's',
    server,
    drawer,
    () => crypto.randomUUID(),
    () => {},
  )
const rename = (id: string, name: string) => editCall('changeDevice', { id, changes: { name } })
/** Lets everything that is under way come to rest. */
async function rest(copy: WorkingCopy): Promise<void> {
  for (let i = 0; i < 40; i++) await Promise.resolve()
  await copy.sync()
}

it('sends in one request no more than the server takes, and never nothing', () => {
  const change = (id: number, size: number): Change => ({
    id: String(id),
    kind: 'edit',
    name: 'x',
    args: 'x'.repeat(size),
  })
  const counts = (...sizes: number[]): number =>
    firstBatch(sizes.map((size, i) => change(i, size))).length
  expect([
    counts(),
    counts(5),
    counts(3_000_000, 5),
    counts(500_000, 400_000, 200_000, 5),
    counts(...Array<number>(450).fill(5)),
  ]).toEqual([0, 1, 1, 2, 200])
})

describe('saving', () => {
  it('sends what is edited and forgets it when it is acknowledged', async () => {
    const [server, drawer] = [new Server(), new Drawer()]
    const copy = await open(server, drawer)
    expect(copy.edit(rename('switch', 'Rack switch'))).toBeUndefined()
    expect([copy.plan.devices.switch!.name, drawer.changes.size]).toEqual(['Rack switch', 1])
    await rest(copy)
    expect([server.head, copy.server.revision, copy.saveState, drawer.changes.size]).toEqual([
      2,
      2,
      'saved',
      0,
    ])
    expect(copy.server.plan.devices.switch!.name).toBe('Rack switch')
    copy.undo()
    await rest(copy)
    expect([server.planAt(3).devices.switch!.name, copy.saveState]).toEqual([
      'Cupboard switch',
      'saved',
    ])
    copy.redo()
    copy.restore(server.first, 1)
    await rest(copy)
    expect(server.planAt(server.head)).toEqual(server.first)
    expect(copy.restore(server.first, 1)).toBe('the plan is just so already')
  })
  it('several edits are one change and one undo, and none of them where one is refused', async () => {
    const [server, drawer] = [new Server(), new Drawer()]
    const copy = await open(server, drawer)
    const both = [rename('switch', 'Rack switch'), rename('gateway', 'Rack gateway')]
    const refused = copy.edits('Rename them', [...both, rename('nobody', 'Nobody')])
    expect(refused).toMatch(/nobody/)
    expect([copy.plan, drawer.changes.size, copy.complaint]).toEqual([server.first, 0, refused])
    expect(copy.edits('Rename them', both)).toBeUndefined()
    expect([drawer.changes.size, copy.history.done.map((s) => s.summary)]).toEqual([
      1,
      ['Rename them'],
    ])
    await rest(copy)
    expect([server.head, server.planAt(2).devices.gateway!.name]).toEqual([2, 'Rack gateway'])
    copy.undo()
    expect(copy.plan).toEqual(server.first)
    await rest(copy)
    expect(server.planAt(3)).toEqual(server.first)
  })
  it('says at once what cannot be, and keeps nothing of it', async () => {
    const copy = await open(new Server())
    expect(copy.edit(rename('nobody', 'x'))).toMatch(/there is no device/)
    expect([copy.complaint, copy.pending.length]).toEqual([
      expect.stringMatching(/there is no device/),
      0,
    ])
  })
  it('a save whose answer is lost is sent again and saved once', async () => {
    const server = new Server()
    const copy = await open(server)
    server.swallows = 1
    copy.edit(rename('switch', 'Rack switch'))
    await rest(copy)
    expect(server.head).toBe(2)
    await rest(copy)
    expect([server.head, copy.saveState, copy.server.revision]).toEqual([2, 'saved', 2])
  })
  it(
    'what was saved before the answer was lost is known as saved after a restart, and nobody ' +
      'is asked about it',
    async () => {
      const [server, drawer] = [new Server(), new Drawer()]
      const copy = await open(server, drawer)
      server.swallows = Infinity
      copy.edit({ name: 'addLocation', args: { id: 'loft', name: 'Loft', kind: 'floor' } })
      copy.edit(rename('switch', 'Rack switch'))
      await rest(copy)
      server.swallows = 0
      server.other('changeDevice', { id: 'switch', changes: { name: 'Theirs, later' } })
      const later = await open(server, drawer)
      expect([later.held, later.pending.length, later.saveState, drawer.changes.size]).toEqual([
        [],
        0,
        'saved',
        0,
      ])
      expect([later.plan.devices.switch!.name, later.plan.locations.loft!.name]).toEqual([
        'Theirs, later',
        'Loft',
      ])
    },
  )
  it(
    'what takes a change back is saved also where the answer to that change was lost and ' +
      'somebody else saved meanwhile',
    async () => {
      const server = new Server()
      const copy = await open(server)
      server.swallows = Infinity
      copy.edit(rename('switch', 'Rack switch'))
      await rest(copy)
      expect([server.head, copy.saveState]).toEqual([2, 'unreachable'])
      server.swallows = 0
      server.away = true
      copy.undo()
      await rest(copy)
      server.away = false
      server.other('changeDevice', { id: 'printer', changes: { name: 'Theirs' } })
      await rest(copy)
      expect([
        server.planAt(server.head).devices.switch!.name,
        copy.plan.devices.switch!.name,
        copy.saveState,
      ]).toEqual(['Cupboard switch', 'Cupboard switch', 'saved'])
    },
  )
  it('a change that the server refuses is put aside with the reason, the others are saved', async () => {
    const server = new Server()
    const copy = await open(server)
    server.refuses = {
      status: 403,
      data: { message: 'this needs the role engineer; yours is viewer' },
    }
    copy.edit(rename('switch', 'Rack switch'))
    await rest(copy)
    expect([copy.saveState, copy.held[0]!.conflict.reason, copy.plan.devices.switch!.name]).toEqual(
      ['conflict', 'this needs the role engineer; yours is viewer', 'Cupboard switch'],
    )
    server.refuses = null
    expect(copy.keepMine(copy.held[0]!.change.id)).toBeUndefined()
    await rest(copy)
    expect([copy.saveState, server.planAt(2).devices.switch!.name]).toEqual([
      'saved',
      'Rack switch',
    ])
  })
  it('a session that ended keeps the work and says so', async () => {
    const server = new Server()
    const copy = await open(server)
    server.refuses = { status: 401, data: {} }
    copy.edit(rename('switch', 'Rack switch'))
    await rest(copy)
    expect([copy.saveState, copy.pending.length]).toEqual(['signed-out', 1])
  })
})

it('fetches what it missed when it is told what the server has, and nothing when it has that', async () => {
  const server = new Server()
  const copy = await open(server)
  server.other('changeDevice', { id: 'switch', changes: { name: 'Missed' } })
  copy.compare({ revision: 2, at: server.revisions[0]!.at })
  await rest(copy)
  expect([copy.plan.devices.switch!.name, copy.saveState]).toEqual(['Missed', 'saved'])
  const fetches = vi.spyOn(server, 'fetch')
  copy.compare({ revision: 2, at: server.revisions[0]!.at })
  await rest(copy)
  expect(fetches).not.toHaveBeenCalled()
  server.revisions.pop()
  server.other('changeDevice', { id: 'switch', changes: { name: 'Of another history' } })
  copy.compare({ revision: 2, at: server.revisions[0]!.at })
  await rest(copy)
  expect([copy.plan.devices.switch!.name, copy.saveState]).toEqual(['Of another history', 'saved'])
})

describe('a server that was set back', () => {
  it('is followed to its state; what was not saved waits for a person, who can keep it', async () => {
    const [server, drawer] = [new Server(), new Drawer()]
    const copy = await open(server, drawer)
    for (const name of ['A', 'B']) {
      copy.edit(rename('switch', name))
      await rest(copy)
    }
    server.away = true
    copy.edit(rename('printer', 'Not sent'))
    await rest(copy)
    // Restored from a backup taken after A, and gone on since: revision 3 is another one now.
    server.revisions.pop()
    for (const name of ['C', 'D'])
      server.other('changeDevice', { id: 'gateway', changes: { name } })
    server.away = false
    await rest(copy)
    const named = (c: WorkingCopy): string[] =>
      ['switch', 'gateway', 'printer'].map((id) => c.plan.devices[id]!.name)
    expect(named(copy)).toEqual(['A', 'D', 'Office printer'])
    expect([copy.server.revision, copy.saveState, copy.held.map((h) => h.conflict)]).toMatchObject([
      4,
      'conflict',
      [
        {
          summary:
            'Change name of Office printer, made before the server was set back to an earlier state',
          reason: null,
          things: [
            {
              id: 'printer',
              part: 'name',
              before: 'Office printer',
              mine: 'Not sent',
              theirs: 'Office printer',
            },
          ],
        },
      ],
    ])
    expect(copy.keepMine(copy.held[0]!.change.id)).toBeUndefined()
    await rest(copy)
    expect([named(copy), copy.saveState, server.head, drawer.changes.size]).toEqual([
      ['A', 'D', 'Not sent'],
      'saved',
      5,
      0,
    ])
    expect(server.planAt(5)).toEqual(copy.plan)
  })
  it('loses nothing of what builds on what is gone', async () => {
    const [server, drawer] = [new Server(), new Drawer()]
    await open(server, drawer)
    const change = {
      id: crypto.randomUUID(),
      kind: 'edit' as const,
      ...rename('of-the-lost-history', 'X'),
    }
    await drawer.putChanges('s', [change], { revision: 3, at: 'lost' })
    const copy = await open(server, drawer)
    expect([
      copy.pending,
      copy.held.map((h) => [h.change.id, h.conflict.reason]),
      drawer.changes.size,
    ]).toEqual([[], [[change.id, expect.stringContaining("no device 'of-the-lost-history'")]], 1])
  })
  it('is noticed when a browser with a newer state opens the site, and kept so for the next time', async () => {
    const [server, drawer] = [new Server(), new Drawer()]
    const copy = await open(server, drawer)
    for (const name of ['A', 'B', 'C']) {
      copy.edit(rename('switch', name))
      await rest(copy)
    }
    server.revisions.splice(1)
    const later = await open(server, drawer)
    expect([later.plan.devices.switch!.name, later.saveState, later.held]).toEqual([
      'A',
      'saved',
      [],
    ])
    server.away = true
    expect((await open(server, drawer)).plan.devices.switch!.name).toBe('A')
  })
})

describe('without a network', () => {
  it('goes on, lives through a restart, and sends it all when the server is back', async () => {
    const [server, drawer] = [new Server(), new Drawer()]
    await open(server, drawer)
    server.away = true
    const copy = await open(server, drawer)
    expect(copy.saveState).toBe('unreachable')
    copy.edit(rename('switch', 'A'))
    copy.edit(rename('printer', 'B'))
    await rest(copy)
    expect([copy.saveState, server.head]).toEqual(['unreachable', 1])
    const later = await open(server, drawer)
    expect([
      later.plan.devices.switch!.name,
      later.plan.devices.printer!.name,
      later.pending.length,
    ]).toEqual(['A', 'B', 2])
    server.away = false
    server.other('changeDevice', { id: 'gateway', changes: { name: 'C' } })
    await rest(later)
    expect(
      ['switch', 'printer', 'gateway'].map((id) => server.planAt(server.head).devices[id]!.name),
    ).toEqual(['A', 'B', 'C'])
    expect([
      later.plan.devices.gateway!.name,
      later.saveState,
      later.server.revision,
      drawer.changes.size,
    ]).toEqual(['C', 'saved', 4, 0])
  })
  it('knows what the browser could not keep, until it is saved', async () => {
    const [server, drawer] = [new Server(), new Drawer()]
    const copy = await open(server, drawer)
    drawer.putChanges = async () => {
      throw new Error('no room left')
    }
    server.away = true
    copy.edit(rename('switch', 'A'))
    await rest(copy)
    expect([...copy.unkept]).toEqual([copy.pending[0]!.id])
    server.away = false
    await rest(copy)
    expect([copy.saveState, copy.unkept.size]).toEqual(['saved', 0])
  })
  it('cannot open what was never opened here', async () => {
    const server = new Server()
    server.away = true
    await expect(open(server)).rejects.toThrow('no network')
  })
  it('knows that the server is back only when it answered', async () => {
    const [server, drawer] = [new Server(), new Drawer()]
    await open(server, drawer)
    server.away = true
    const copy = await open(server, drawer)
    await copy.sync()
    expect(copy.saveState).toBe('unreachable')
    server.away = false
    await copy.sync()
    expect(copy.saveState).toBe('saved')
  })
})

describe('conflicts', () => {
  async function inConflict(): Promise<{ server: Server; drawer: Drawer; copy: WorkingCopy }> {
    const [server, drawer] = [new Server(), new Drawer()]
    const copy = await open(server, drawer)
    server.other('changeDevice', { id: 'switch', changes: { name: 'Theirs' } })
    copy.edit(rename('switch', 'Mine'))
    copy.edit(rename('printer', 'Apart'))
    await rest(copy)
    return { server, drawer, copy }
  }
  it('are held; what stands apart is saved; nothing of theirs is touched', async () => {
    const { server, copy, drawer } = await inConflict()
    expect([
      copy.saveState,
      copy.plan.devices.switch!.name,
      server.planAt(server.head).devices.printer!.name,
    ]).toEqual(['conflict', 'Theirs', 'Apart'])
    expect(copy.held[0]!.conflict).toMatchObject({
      by: [{ number: 2, author: 'the other' }],
      things: [{ id: 'switch', part: 'name', mine: 'Mine', theirs: 'Theirs' }],
    })
    expect([...disputed(copy.held)]).toEqual(['switch'])
    expect(asMine(copy.plan, copy.held)!.devices.switch!.name).toBe('Mine')
    const later = await open(server, drawer)
    expect(later.held).toHaveLength(1)
    expect(stillDiffers(later.plan, later.held[0]!)).toBe(true)
  })
  it('keep mine: done on the newest plan and saved, and can be undone', async () => {
    const { server, copy } = await inConflict()
    copy.keepMine(copy.held[0]!.change.id)
    await rest(copy)
    expect([server.planAt(server.head).devices.switch!.name, copy.saveState]).toEqual([
      'Mine',
      'saved',
    ])
    copy.undo()
    await rest(copy)
    expect(server.planAt(server.head).devices.switch!.name).toBe('Theirs')
  })
  it('take theirs: let go, here and in the drawer', async () => {
    const { copy, drawer, server } = await inConflict()
    const { head } = server
    copy.takeTheirs(copy.held[0]!.change.id)
    await rest(copy)
    expect([
      copy.saveState,
      drawer.changes.size,
      server.head,
      asMine(copy.plan, copy.held),
    ]).toEqual(['saved', 0, head, undefined])
  })
  it('what can no longer be done says why when it is kept', async () => {
    const { server, copy } = await inConflict()
    server.other('removeDevice', { id: 'switch' })
    copy.heard(server.head)
    await rest(copy)
    expect(copy.keepMine(copy.held[0]!.change.id)).toMatch(/removed meanwhile/)
  })
})

it('news of others comes in, and undo goes only so far as nobody built on it', async () => {
  const server = new Server()
  const copy = await open(server)
  copy.edit(rename('switch', 'A'))
  copy.edit(rename('printer', 'B'))
  await rest(copy)
  server.other('changeDevice', { id: 'printer', changes: { name: 'Theirs' } })
  copy.heard(server.head)
  await rest(copy)
  expect([copy.plan.devices.printer!.name, copy.history.done.map((s) => s.summary)]).toEqual([
    'Theirs',
    ['Change name of Cupboard switch'],
  ])
})

it(
  'whatever is lost on the way and however often the browser is closed: what each set last is ' +
    'there in the end',
  async () => {
    const names = fc.constantFrom('One', 'Two', 'Three')
    const happening = fc.oneof(
      { weight: 4, arbitrary: names.map((name) => ({ kind: 'edit' as const, name })) },
      { weight: 2, arbitrary: names.map((name) => ({ kind: 'other' as const, name })) },
      fc.constantFrom(
        { kind: 'undo' as const },
        { kind: 'restart' as const },
        { kind: 'lose' as const },
        { kind: 'away' as const },
        { kind: 'back' as const },
        { kind: 'rest' as const },
      ),
    )
    await fc.assert(
      fc.asyncProperty(fc.array(happening, { maxLength: 14 }), async (happenings) => {
        const [server, drawer] = [new Server(), new Drawer()]
        let copy = await open(server, drawer)
        let theirs = 'Office printer'
        for (const h of happenings) {
          if (h.kind === 'edit') copy.edit(rename('switch', h.name))
          if (h.kind === 'undo') copy.undo()
          if (h.kind === 'other') {
            server.other('changeDevice', { id: 'printer', changes: { name: h.name } })
            theirs = h.name
          }
          if (h.kind === 'restart') {
            await rest(copy)
            copy = await open(server, drawer)
          }
          if (h.kind === 'lose') server.swallows = Infinity
          if (h.kind === 'away') server.away = true
          if (h.kind === 'back') {
            server.away = false
            server.swallows = 0
          }
          if (h.kind === 'rest') await rest(copy)
        }
        const mine = copy.plan.devices.switch!.name
        server.away = false
        server.swallows = 0
        await rest(copy)
        copy.heard(server.head)
        await rest(copy)
        expect([copy.held, copy.pending.length, copy.saveState, drawer.changes.size]).toEqual([
          [],
          0,
          'saved',
          0,
        ])
        expect(copy.plan).toEqual(server.planAt(server.head))
        expect([copy.plan.devices.switch!.name, copy.plan.devices.printer!.name]).toEqual([
          mine,
          theirs,
        ])
      }),
      { numRuns: 150 },
    )
  },
)

it(
  'two windows of one browser and somebody else: every change is saved, held or without ' +
    'effect, and none is saved over what its author had not seen',
  async () => {
    const window = fc.constantFrom(0 as const, 1 as const)
    const device = fc.constantFrom('switch', 'printer')
    const happening = fc.oneof(
      {
        weight: 4,
        arbitrary: fc.record({
          kind: fc.constant('edit' as const),
          window,
          device,
          name: fc.constantFrom('One', 'Two', 'Three'),
        }),
      },
      {
        weight: 2,
        arbitrary: fc.record({
          kind: fc.constant('other' as const),
          device,
          name: fc.constantFrom('Four', 'Five'),
        }),
      },
      {
        weight: 3,
        arbitrary: fc.record({
          kind: fc.constantFrom(
            'undo' as const,
            'restart' as const,
            'heard' as const,
            'rest' as const,
          ),
          window,
        }),
      },
      fc.constantFrom(
        { kind: 'lose' as const },
        { kind: 'away' as const },
        { kind: 'back' as const },
      ),
    )
    await fc.assert(
      fc.asyncProperty(fc.array(happening, { maxLength: 18 }), async (happenings) => {
        const [server, drawer] = [new Server(), new Drawer()]
        await open(server, drawer)
        const windows = [await open(server, drawer), await open(server, drawer)]
        /** For each change the newest revision that its author saw. */
        const seen = new Map<string, number>()
        const note = (copy: WorkingCopy): void => {
          for (const c of copy.pending) if (!seen.has(c.id)) seen.set(c.id, copy.server.revision)
        }
        for (const h of happenings) {
          if (h.kind === 'other')
            server.other('changeDevice', { id: h.device, changes: { name: h.name } })
          else if (h.kind === 'lose') server.swallows = Infinity
          else if (h.kind === 'away') server.away = true
          else if (h.kind === 'back') {
            server.away = false
            server.swallows = 0
          } else {
            const copy = windows[h.window]!
            if (h.kind === 'edit') copy.edit(rename(h.device, h.name))
            if (h.kind === 'undo') copy.undo()
            note(copy)
            if (h.kind === 'heard') copy.heard(server.head)
            if (h.kind === 'rest') await rest(copy)
            if (h.kind === 'restart') {
              await Promise.resolve()
              windows[h.window] = await open(server, drawer)
            }
          }
        }
        server.away = false
        server.swallows = 0
        for (let i = 0; i < 2; i++)
          for (const copy of windows) {
            copy.heard(server.head)
            await rest(copy)
          }
        // A last window finds what the others left behind.
        const last = await open(server, drawer)
        await rest(last)
        expect([
          last.pending.length,
          [...drawer.changes.values()].filter((c) => !c.conflict).length,
        ]).toEqual([0, 0])
        for (const copy of [...windows, last])
          expect([copy.pending.length, copy.plan]).toEqual([0, server.planAt(server.head)])
        for (const ours of server.revisions.filter((r) => r.author === 'me')) {
          const unseen = server.revisions.filter(
            (r) =>
              r.author !== 'me' && r.number > seen.get(ours.changeId)! && r.number < ours.number,
          )
          expect(
            shared(
              thingsOf(ours.patches),
              unseen.flatMap((r) => thingsOf(r.patches)),
            ),
          ).toEqual([])
        }
      }),
      { numRuns: 250 },
    )
  },
)
