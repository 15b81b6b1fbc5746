import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { mergeChanges, runChange, type Change, type SitePlan, type TheirRevision } from '@mast/core/plan'
import { asMine, disputed, stillDiffers, WorkingCopy, type Held, type Keep, type Kept, type Remote, type ServerCopy } from './workingCopy'

/** A server of one site, in memory, that merges as the real one does. */
class Server implements Remote {
  revisions: (TheirRevision & { changeId: string; plan: SitePlan })[] = []
  away = false
  /** Saves, but its answer does not arrive. */
  swallows = 0
  refuses: { status: number; data: object } | null = null
  saves = 0
  constructor(readonly first = quayside()) {}
  get head(): number { return this.revisions.length + 1 }
  planAt(n: number): SitePlan { return n === 1 ? this.first : this.revisions[n - 2]!.plan }
  private reach(): void { if (this.away) throw Object.assign(new Error('no network')) }

  async fetch(_: string, since: number | null) {
    this.reach()
    return { id: 's', role: 'engineer', revision: this.head, plan: this.planAt(this.head), revisions: [], since: since === null ? [] : this.revisions.filter((r) => r.number > since) }
  }
  async save(_: string, base: number, changes: readonly Change[]) {
    this.reach()
    this.saves++
    if (this.refuses) throw Object.assign(new Error('refused'), this.refuses)
    const known = new Set(this.revisions.map((r) => r.changeId))
    const theirs = this.revisions.filter((r) => r.number > base && !changes.some((c) => c.id === r.changeId))
    const merge = mergeChanges(theirs.length === 0 ? this.planAt(this.head) : this.planAt(base), this.planAt(this.head), theirs, changes.filter((c) => !known.has(c.id)))
    if (merge.refused[0]) throw Object.assign(new Error('refused'), { status: 422, data: { message: 'no', data: { changeId: merge.refused[0].changeId, problems: merge.refused[0].problems } } })
    if (merge.conflicts.length > 0) throw Object.assign(new Error('conflict'), { status: 409, data: {} })
    for (const s of merge.steps) this.revisions.push({ number: this.head + 1, summary: s.summary, author: 'me', patches: s.patches, changeId: s.changeId, plan: s.plan })
    if (this.swallows-- > 0) throw new Error('the answer was lost')
    return { revision: this.head, merged: theirs.length > 0, made: this.revisions.filter((r) => changes.some((c) => c.id === r.changeId)) }
  }
  /** Somebody else saves. */
  other(name: string, args: object): void {
    const outcome = runChange(this.planAt(this.head), { id: crypto.randomUUID(), kind: 'edit', name, args })
    if (!outcome.ok) throw new Error(outcome.problems[0]!.reason)
    this.revisions.push({ number: this.head + 1, summary: outcome.summary, author: 'the other', patches: outcome.patches, changeId: crypto.randomUUID(), plan: outcome.plan })
  }
}

class Drawer implements Keep {
  server: ServerCopy | undefined
  changes = new Map<string, { change: Change; conflict: Held['conflict'] | null }>()
  async load(): Promise<Kept | undefined> {
    const all = [...this.changes.values()]
    return this.server && structuredClone({ server: this.server, pending: all.filter((c) => !c.conflict).map((c) => c.change), held: all.flatMap((c) => (c.conflict ? [{ change: c.change, conflict: c.conflict }] : [])) })
  }
  async putServer(server: ServerCopy) { this.server = structuredClone(server) }
  async putChanges(_: string, changes: readonly Change[]) { for (const change of changes) this.changes.set(change.id, structuredClone({ change, conflict: null })) }
  async hold(_: string, held: readonly Held[]) { for (const { change, conflict } of held) this.changes.set(change.id, structuredClone({ change, conflict })) }
  async remove(ids: readonly string[]) { for (const id of ids) this.changes.delete(id) }
}

const open = (server: Server, drawer = new Drawer()): Promise<WorkingCopy> => WorkingCopy.open('s', server, drawer, () => crypto.randomUUID(), () => {})
const rename = (id: string, name: string) => ({ name: 'changeDevice', args: { id, changes: { name } } })
/** Lets everything that is under way come to rest. */
async function rest(copy: WorkingCopy): Promise<void> { for (let i = 0; i < 40; i++) await Promise.resolve(); await copy.sync() }

describe('saving', () => {
  it('sends what is edited and forgets it when it is acknowledged', async () => {
    const [server, drawer] = [new Server(), new Drawer()]
    const copy = await open(server, drawer)
    expect(copy.edit(rename('switch', 'Rack switch'))).toBeUndefined()
    expect([copy.plan.devices.switch!.name, drawer.changes.size]).toEqual(['Rack switch', 1])
    await rest(copy)
    expect([server.head, copy.server.revision, copy.saveState, drawer.changes.size]).toEqual([2, 2, 'saved', 0])
    expect(copy.server.plan.devices.switch!.name).toBe('Rack switch')
    copy.undo()
    await rest(copy)
    expect([server.planAt(3).devices.switch!.name, copy.saveState]).toEqual(['Cupboard switch', 'saved'])
    copy.redo()
    copy.restore(server.first, 1)
    await rest(copy)
    expect(server.planAt(server.head)).toEqual(server.first)
    expect(copy.restore(server.first, 1)).toBe('the plan is just so already')
  })
  it('says at once what cannot be, and keeps nothing of it', async () => {
    const copy = await open(new Server())
    expect(copy.edit(rename('nobody', 'x'))).toMatch(/there is no device/)
    expect([copy.complaint, copy.pending.length]).toEqual([expect.stringMatching(/there is no device/), 0])
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
  it('a change that the server refuses is put aside with the reason, the others are saved', async () => {
    const server = new Server()
    const copy = await open(server)
    server.refuses = { status: 403, data: { message: 'this needs the role engineer; yours is viewer' } }
    copy.edit(rename('switch', 'Rack switch'))
    await rest(copy)
    expect([copy.saveState, copy.held[0]!.conflict.reason, copy.plan.devices.switch!.name]).toEqual(['conflict', 'this needs the role engineer; yours is viewer', 'Cupboard switch'])
    server.refuses = null
    expect(copy.keepMine(copy.held[0]!.change.id)).toBeUndefined()
    await rest(copy)
    expect([copy.saveState, server.planAt(2).devices.switch!.name]).toEqual(['saved', 'Rack switch'])
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
    expect([later.plan.devices.switch!.name, later.plan.devices.printer!.name, later.pending.length]).toEqual(['A', 'B', 2])
    server.away = false
    server.other('changeDevice', { id: 'gateway', changes: { name: 'C' } })
    await rest(later)
    expect(['switch', 'printer', 'gateway'].map((id) => server.planAt(server.head).devices[id]!.name)).toEqual(['A', 'B', 'C'])
    expect([later.plan.devices.gateway!.name, later.saveState, later.server.revision, drawer.changes.size]).toEqual(['C', 'saved', 4, 0])
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
    expect([copy.saveState, copy.plan.devices.switch!.name, server.planAt(server.head).devices.printer!.name]).toEqual(['conflict', 'Theirs', 'Apart'])
    expect(copy.held[0]!.conflict).toMatchObject({ by: [{ number: 2, author: 'the other' }], things: [{ id: 'switch', part: 'name', mine: 'Mine', theirs: 'Theirs' }] })
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
    expect([server.planAt(server.head).devices.switch!.name, copy.saveState]).toEqual(['Mine', 'saved'])
    copy.undo()
    await rest(copy)
    expect(server.planAt(server.head).devices.switch!.name).toBe('Theirs')
  })
  it('take theirs: let go, here and in the drawer', async () => {
    const { copy, drawer, server } = await inConflict()
    const { head } = server
    copy.takeTheirs(copy.held[0]!.change.id)
    await rest(copy)
    expect([copy.saveState, drawer.changes.size, server.head, asMine(copy.plan, copy.held)]).toEqual(['saved', 0, head, undefined])
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
  expect([copy.plan.devices.printer!.name, copy.history.done.map((s) => s.summary)]).toEqual(['Theirs', ['Change name of Cupboard switch']])
})
