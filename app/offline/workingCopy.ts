/**
 * A site as this browser has it: the newest plan that the server gave, and on top of it what was changed here and is not saved yet.
 * Every change is kept before it is sent, so that it lives through a lost network, a closed browser and a restart; the server recognises
 * a change that arrives twice. What meets somebody else's change is held for a person, never dropped and never forced.
 */
import {
  doEdit, emptyHistory, mergeChanges, patchesBetween, redo, runChange, shareUnchanged, thingsOf, undo, withoutOvertaken,
  type Change, type Conflict, type EditCall, type History, type HistoryOutcome, type SitePlan, type TheirRevision,
} from '@mast/core/plan'

export interface RevisionLine { readonly number: number; readonly summary: string; readonly author: string | null; readonly at: string }
export interface ServerCopy { readonly id: string; readonly role: string; readonly revision: number; readonly plan: SitePlan; readonly revisions: readonly RevisionLine[] }
export interface SiteReply extends ServerCopy { readonly since: readonly TheirRevision[] }
export interface SaveReply { readonly revision: number; readonly merged: boolean; readonly made: readonly { number: number; summary: string; changeId: string }[] }

/** The server's routes. They throw an error with a `status` where the server answered, without one where it did not. */
export interface Remote {
  fetch(siteId: string, since: number | null): Promise<SiteReply>
  save(siteId: string, base: number, changes: readonly Change[]): Promise<SaveReply>
}

/** A change that waits for a person. */
export interface Held { readonly change: Change; readonly conflict: Conflict }
export interface Kept { readonly server: ServerCopy; readonly pending: readonly Change[]; readonly held: readonly Held[] }

/** What is kept in the browser. */
export interface Keep {
  load(siteId: string): Promise<Kept | undefined>
  putServer(server: ServerCopy): Promise<void>
  putChanges(siteId: string, changes: readonly Change[]): Promise<void>
  hold(siteId: string, held: readonly Held[]): Promise<void>
  remove(changeIds: readonly string[]): Promise<void>
}

export type SaveState = 'saved' | 'pending' | 'saving' | 'unreachable' | 'signed-out' | 'conflict'
const MOST_REVISIONS = 30
const BATCH = 200

interface Failed { readonly status?: number; readonly data?: { readonly message?: string; readonly data?: { readonly changeId?: string; readonly problems?: readonly { reason: string }[] } } }
/** Whether the server did not get to answer, so that trying again later makes sense. */
const isAway = (e: Failed): boolean => e.status === undefined || e.status === 429 || e.status >= 500

export class WorkingCopy {
  plan: SitePlan
  history: History = emptyHistory
  saveState: SaveState = 'saved'
  complaint: string | null = null
  private newest: number
  private busy = false

  private constructor(public server: ServerCopy, public pending: Change[], public held: Held[], private readonly remote: Remote, private readonly keep: Keep, private readonly newId: () => string, private readonly changed: () => void) {
    this.plan = server.plan
    this.newest = server.revision
    for (const change of [...this.pending]) {
      const outcome = runChange(this.plan, change)
      if (outcome.ok) this.plan = outcome.plan
      else this.putAside(change, outcome.problems[0]!.reason)
    }
    this.settle()
  }

  /** @throws what the server said, or, where it is away and the site was never opened here, what happened. */
  static async open(siteId: string, remote: Remote, keep: Keep, newId: () => string, changed: () => void): Promise<WorkingCopy> {
    const kept = await keep.load(siteId).catch(() => undefined)
    let reply: SiteReply | undefined
    try {
      reply = await remote.fetch(siteId, kept?.server.revision ?? null)
    } catch (error) {
      if (!kept || !isAway(error as Failed)) throw error
    }
    const copy = new WorkingCopy(kept?.server ?? reply!, [...(kept?.pending ?? [])], [...(kept?.held ?? [])], remote, keep, newId, changed)
    if (reply) {
      copy.take(reply)
      await keep.putServer(copy.server).catch(() => {})
    } else copy.saveState = 'unreachable'
    return copy
  }

  private settle(): void {
    this.saveState = this.pending.length > 0 ? 'pending' : this.held.length > 0 ? 'conflict' : 'saved'
  }

  // --- editing

  private adopt(result: HistoryOutcome | undefined, change: (r: HistoryOutcome) => Change): string | undefined {
    if (!result) return undefined
    const { outcome } = result
    if (!outcome.ok) { this.complaint = outcome.problems[0]!.reason; this.changed(); return this.complaint }
    this.complaint = null
    if (outcome.patches.length > 0) {
      this.plan = outcome.plan
      this.history = result.history
      this.add(change(result))
    }
    this.changed()
    return undefined
  }
  private add(change: Change): void {
    this.pending.push(change)
    if (this.saveState !== 'unreachable' && this.saveState !== 'signed-out') this.saveState = 'pending'
    void this.keep.putChanges(this.server.id, [change]).catch(() => {})
    void this.sync()
  }
  private asPatches(r: HistoryOutcome): Change {
    const { summary, patches } = r.outcome as Extract<HistoryOutcome['outcome'], { ok: true }>
    return { id: this.newId(), kind: 'patches', summary, patches: patches as Extract<Change, { kind: 'patches' }>['patches'] }
  }

  /** Applies an edit; gives the reason where it is refused. */
  edit({ name, args }: EditCall): string | undefined {
    return this.adopt(doEdit(this.plan, this.history, { name, args }), () => ({ id: this.newId(), kind: 'edit', name, args }))
  }
  undo(): string | undefined { return this.adopt(undo(this.plan, this.history), (r) => this.asPatches(r)) }
  redo(): string | undefined { return this.adopt(redo(this.plan, this.history), (r) => this.asPatches(r)) }

  /** Brings the plan back to an older one, as a change like any other. */
  restore(older: SitePlan, revision: number): string | undefined {
    const patches = patchesBetween(this.plan, older)
    if (patches.length === 0) return 'the plan is just so already'
    const change: Change = { id: this.newId(), kind: 'patches', summary: `Restore revision ${revision}`, patches: patches as Extract<Change, { kind: 'patches' }>['patches'] }
    const outcome = runChange(this.plan, change)
    const step = outcome.ok ? { summary: outcome.summary, patches: outcome.patches, inverse: outcome.inverse } : undefined
    return this.adopt({ outcome, history: step ? { done: [...this.history.done, step], undone: [] } : this.history }, () => change)
  }

  // --- conflicts

  /** Does a held change on the plan as it is now. Gives the reason where that is not possible. */
  keepMine(changeId: string): string | undefined {
    const found = this.held.find((h) => h.change.id === changeId)
    if (!found) return undefined
    const outcome = runChange(this.plan, found.change)
    if (!outcome.ok) return outcome.problems[0]!.reason
    this.held = this.held.filter((h) => h !== found)
    if (outcome.patches.length === 0) { void this.keep.remove([changeId]); this.settle(); this.changed(); return undefined }
    const { summary, patches, inverse } = outcome
    this.plan = outcome.plan
    this.history = { done: [...this.history.done, { summary, patches, inverse }], undone: [] }
    this.add(found.change)
    this.changed()
    return undefined
  }
  /** Lets a held change go. */
  takeTheirs(changeId: string): void {
    this.held = this.held.filter((h) => h.change.id !== changeId)
    void this.keep.remove([changeId]).catch(() => {})
    if (this.pending.length === 0 && this.held.length === 0 && this.saveState === 'conflict') this.saveState = 'saved'
    this.changed()
  }

  private putAside(change: Change, reason: string): void {
    const summary = change.kind === 'patches' ? change.summary : change.name
    this.hold([{ change, conflict: { changeId: change.id, summary, things: [], by: [], reason } }])
  }
  private hold(held: readonly Held[]): void {
    const ids = new Set(held.map((h) => h.change.id))
    this.pending = this.pending.filter((c) => !ids.has(c.id))
    this.held = [...this.held, ...held]
    void this.keep.hold(this.server.id, held).catch(() => {})
  }

  // --- the server

  /** Told that the server has a newer revision. */
  heard(revision: number): void {
    this.newest = Math.max(this.newest, revision)
    void this.sync()
  }

  /** Sends what is pending and fetches what is new, until neither is left or the server is away. */
  async sync(): Promise<void> {
    if (this.busy) return
    this.busy = true
    try {
      // Whether the server is back is only known when it answered.
      let unheard = this.saveState === 'unreachable' || this.saveState === 'signed-out'
      while (this.pending.length > 0 || this.newest > this.server.revision || unheard) {
        if (this.pending.length > 0) await this.send()
        else await this.catchUp()
        unheard = false
      }
      this.settle()
    } catch (error) {
      const failed = error as Failed
      if (isAway(failed)) this.saveState = 'unreachable'
      else if (failed.status === 401) this.saveState = 'signed-out'
      else { this.complaint = failed.data?.message ?? 'The server refused this.'; this.saveState = 'unreachable' }
    } finally {
      this.busy = false
      this.changed()
    }
  }

  private async send(): Promise<void> {
    const batch = this.pending.slice(0, BATCH)
    this.saveState = 'saving'
    this.changed()
    try {
      const reply = await this.remote.save(this.server.id, this.server.revision, batch)
      await this.saved(batch, reply)
    } catch (error) {
      const failed = error as Failed
      const wrong = failed.data?.data?.changeId
      if (failed.status === 409) await this.catchUp()
      else if (failed.status === 422 && wrong) this.reject([wrong], failed.data?.data?.problems?.[0]?.reason ?? failed.data?.message ?? 'refused')
      else if (failed.status === 403 || failed.status === 400 || failed.status === 413) this.reject(batch.map((c) => c.id), failed.data?.message ?? 'refused')
      else throw error
    }
  }

  private async saved(batch: readonly Change[], reply: SaveReply): Promise<void> {
    const sent = new Set(batch.map((c) => c.id))
    let plan = this.server.plan
    for (const change of batch) {
      const outcome = runChange(plan, change)
      if (outcome.ok) plan = outcome.plan
    }
    this.pending = this.pending.filter((c) => !sent.has(c.id))
    if (reply.merged) {
      const fresh = await this.remote.fetch(this.server.id, this.server.revision)
      const ours = new Set(reply.made.map((m) => m.number))
      this.server = { ...this.server, plan }
      this.take({ ...fresh, since: fresh.since.filter((r) => !ours.has(r.number)) })
    } else {
      const at = new Date().toISOString()
      const lines = [...reply.made].sort((a, b) => b.number - a.number).map((m) => ({ number: m.number, summary: m.summary, author: null, at }))
      this.server = { ...this.server, plan, revision: reply.revision, revisions: [...lines, ...this.server.revisions.filter((r) => !lines.some((l) => l.number === r.number))].slice(0, MOST_REVISIONS) }
      this.newest = Math.max(this.newest, reply.revision)
    }
    await this.keep.putServer(this.server).catch(() => {})
    await this.keep.remove([...sent]).catch(() => {})
  }

  private async catchUp(): Promise<void> {
    this.take(await this.remote.fetch(this.server.id, this.server.revision))
    await this.keep.putServer(this.server).catch(() => {})
  }

  /** Takes the newest plan and does what is pending again on top of it. */
  private take(reply: SiteReply): void {
    const { since, ...newest } = reply
    const server = { ...newest, plan: shareUnchanged(this.server.plan, newest.plan) }
    if (server.revision >= this.server.revision) {
      const touched = thingsOf(since.flatMap((r) => [...r.patches]))
      const merge = mergeChanges(this.server.plan, server.plan, since, this.pending)
      this.server = server
      this.plan = merge.plan
      this.history = withoutOvertaken(this.history, touched)
      const held = merge.conflicts.map((conflict): Held => ({ conflict, change: this.pending.find((c) => c.id === conflict.changeId)! }))
      if (held.length > 0) this.hold(held)
      for (const r of merge.refused) {
        const change = this.pending.find((c) => c.id === r.changeId)
        if (change) this.putAside(change, r.problems[0]!.reason)
      }
    }
    this.newest = Math.max(this.newest, server.revision)
    this.settle()
  }

  private reject(ids: readonly string[], reason: string): void {
    for (const id of ids) {
      const change = this.pending.find((c) => c.id === id)
      if (change) this.putAside(change, reason)
    }
    let plan = this.server.plan
    for (const change of this.pending) {
      const outcome = runChange(plan, change)
      if (outcome.ok) plan = outcome.plan
    }
    this.plan = plan
    this.history = emptyHistory
  }
}

/** Ids of the entities that held changes and saved ones disagree about. */
export const disputed = (held: readonly Held[]): Set<string> => new Set(held.flatMap((h) => h.conflict.things.map((t) => t.id || t.top)))

/** What a held change would make of the plan, or undefined where it cannot be done on it. */
export function asMine(plan: SitePlan, held: readonly Held[]): SitePlan | undefined {
  let mine = plan
  for (const h of held) {
    const outcome = runChange(mine, h.change)
    if (outcome.ok) mine = outcome.plan
  }
  return mine === plan ? undefined : mine
}

/** Whether a held change still disagrees with the plan, which may have moved on. */
export const stillDiffers = (plan: SitePlan, held: Held): boolean => {
  const outcome = runChange(plan, held.change)
  return !outcome.ok || outcome.patches.length > 0
}
