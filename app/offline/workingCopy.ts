/**
 * A site as this browser has it: the newest plan that the server gave, and on top of it what was
 * changed here and is not saved yet.
 * Every change is kept before it is sent, so that it lives through a lost network, a closed browser
 * and a restart; the server recognises
 * a change that arrives twice. What meets somebody else's change is held for a person, never
 * dropped and never forced.
 */
import {
  doEdit,
  doEdits,
  emptyHistory,
  mergeChanges,
  othersOf,
  patchesBetween,
  redo,
  runChange,
  shareUnchanged,
  thingsOf,
  undo,
  valueOf,
  withoutOvertaken,
  type Change,
  type Conflict,
  type EditCall,
  type History,
  type HistoryOutcome,
  type SitePlan,
} from '@mast/core/plan'
import type { Base, Refusal, SaveReply, SiteReply } from '@mast/api'

/** A site as the server last gave it. */
export type ServerCopy = Readonly<Omit<SiteReply, 'since'>>

/**
 * The server's routes. They throw an error with a `status` where the server answered, without one
 * where it did not.
 */
export interface Remote {
  fetch(siteId: string, since: Base | null): Promise<SiteReply>
  save(siteId: string, base: Base, changes: readonly Change[]): Promise<SaveReply>
}

/** A change that waits for a person. */
export interface Held {
  readonly change: Change
  readonly conflict: Conflict
}
/**
 * `base` is what the oldest of the pending changes was made on; another window of this browser may
 * have brought the plan further since.
 */
export interface Kept {
  readonly server: ServerCopy
  readonly base: Base
  readonly pending: readonly Change[]
  readonly held: readonly Held[]
}

/** What is kept in the browser. */
export interface Keep {
  load(siteId: string): Promise<Kept | undefined>
  /**
   * In one go: the newest plan, what was saved of ours, and that the rest of ours is on top of it.
   * @param isOtherHistory whether it takes the place of a newer one
   */
  putServer(
    server: ServerCopy,
    saved: readonly string[],
    pending: readonly string[],
    isOtherHistory?: boolean,
  ): Promise<void>
  putChanges(siteId: string, changes: readonly Change[], base: Base): Promise<void>
  hold(siteId: string, held: readonly Held[]): Promise<void>
  remove(changeIds: readonly string[]): Promise<void>
}

export type SaveState = 'saved' | 'pending' | 'saving' | 'unreachable' | 'signed-out' | 'conflict'
const MOST_REVISIONS = 30
const MOST_CHANGES = 200
/** Well below what the server takes in one body. */
const MOST_CHARACTERS = 1_000_000

/**
 * The first of what is pending that go in one request: as many as there are, up to a count and a
 * size, and one at least.
 */
export function firstBatch(pending: readonly Change[]): readonly Change[] {
  let characters = 0
  const end = pending.findIndex((change, i) => {
    characters += JSON.stringify(change).length
    return i > 0 && (i === MOST_CHANGES || characters > MOST_CHARACTERS)
  })
  return end < 0 ? pending.slice() : pending.slice(0, end)
}

interface Failed {
  readonly status?: number
  readonly data?: Partial<Refusal>
}
export const baseOf = ({ revision, revisions }: Omit<ServerCopy, 'plan'>): Base => ({
  revision,
  at: revisions.find((r) => r.number === revision)?.at ?? null,
})
const SET_BACK = 'made before the server was set back to an earlier state'

/** Whether the server did not get to answer, so that trying again later makes sense. */
const isAway = (e: Failed): boolean => e.status === undefined || e.status === 429 || e.status >= 500

/** A change that cannot be done, for a person to let go. */
const asideOf = (change: Change, reason: string): Held => ({
  change,
  conflict: {
    changeId: change.id,
    summary: change.kind === 'edit' ? change.name : change.summary,
    things: [],
    by: [],
    reason,
  },
})

export class WorkingCopy {
  plan: SitePlan
  history: History = emptyHistory
  saveState: SaveState = 'saved'
  complaint: string | null = null
  private newest: number
  private busy = false
  /** Saved, and still to be taken out of what is kept. */
  private done: string[] = []
  /**
   * Changes that this browser could not keep: until they are saved they live only as long as the
   * page.
   */
  readonly unkept = new Set<string>()
  /** Whether the server may have something else than what was last heard of it. */
  private unsure = false

  private constructor(
    public server: ServerCopy,
    private base: Base,
    public pending: Change[],
    public held: Held[],
    private readonly remote: Remote,
    private readonly keep: Keep,
    private readonly newId: () => string,
    private readonly changed: () => void,
  ) {
    this.plan = server.plan
    this.newest = server.revision
    for (const change of [...this.pending]) {
      const outcome = runChange(this.plan, change)
      if (outcome.ok) this.plan = outcome.plan
      // On an older base it may be there already; the server will tell.
      else if (base.revision === server.revision) this.putAside(change, outcome.problems[0]!.reason)
    }
    this.settle()
  }

  /**
   * @throws what the server said, or, where it is away and the site was never opened here, what
   * happened.
   */
  static async open(
    siteId: string,
    remote: Remote,
    keep: Keep,
    newId: () => string,
    changed: () => void,
  ): Promise<WorkingCopy> {
    const kept = await keep.load(siteId).catch(() => undefined)
    let reply: SiteReply | undefined
    try {
      reply = await remote.fetch(siteId, kept?.base ?? null)
    } catch (error) {
      if (!kept || !isAway(error as Failed)) throw error
    }
    const copy = new WorkingCopy(
      kept?.server ?? reply!,
      kept?.base ?? baseOf(reply!),
      [...(kept?.pending ?? [])],
      [...(kept?.held ?? [])],
      remote,
      keep,
      newId,
      changed,
    )
    if (reply) await copy.take(reply)
    else copy.saveState = 'unreachable'
    return copy
  }

  /**
   * The plan is what the server has, and what is pending on top of it. What stayed the same stays
   * the same object.
   */
  private replay(): void {
    let plan = this.server.plan
    for (const change of this.pending) {
      const outcome = runChange(plan, change)
      if (outcome.ok) plan = outcome.plan
    }
    this.plan = shareUnchanged(this.plan, plan)
  }
  private settle(): void {
    this.saveState =
      this.pending.length > 0 ? 'pending' : this.held.length > 0 ? 'conflict' : 'saved'
  }

  // --- editing

  private adopt(
    result: HistoryOutcome | undefined,
    change: (r: HistoryOutcome) => Change,
  ): string | undefined {
    if (!result) return undefined
    const { outcome } = result
    if (!outcome.ok) {
      this.complaint = outcome.problems[0]!.reason
      this.changed()
      return this.complaint
    }
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
    if (this.saveState !== 'unreachable' && this.saveState !== 'signed-out')
      this.saveState = 'pending'
    this.keep.putChanges(this.server.id, [change], this.base).catch(() => {
      if (this.pending.includes(change)) this.unkept.add(change.id)
      this.changed()
    })
    void this.sync()
  }
  private asPatches(r: HistoryOutcome): Change {
    const { summary, patches } = r.outcome as Extract<HistoryOutcome['outcome'], { ok: true }>
    return {
      id: this.newId(),
      kind: 'patches',
      summary,
      patches: patches as Extract<Change, { kind: 'patches' }>['patches'],
    }
  }

  /** Applies an edit; gives the reason where it is refused. */
  edit(call: EditCall): string | undefined {
    const { name, args } = call
    return this.adopt(doEdit(this.plan, this.history, call), () => ({
      id: this.newId(),
      kind: 'edit',
      name,
      args,
    }))
  }
  /** Applies several as one change: all of them, or none where one is refused. */
  edits(summary: string, calls: readonly EditCall[]): string | undefined {
    const [only] = calls
    if (calls.length <= 1) return only ? this.edit(only) : undefined
    return this.adopt(doEdits(this.plan, this.history, summary, calls), () => ({
      id: this.newId(),
      kind: 'edits',
      summary,
      edits: calls.map(({ name, args }) => ({ name, args })),
    }))
  }
  undo(): string | undefined {
    return this.adopt(undo(this.plan, this.history), (r) => this.asPatches(r))
  }
  redo(): string | undefined {
    return this.adopt(redo(this.plan, this.history), (r) => this.asPatches(r))
  }

  /** Brings the plan back to an older one, as a change like any other. */
  restore(older: SitePlan, revision: number): string | undefined {
    const patches = patchesBetween(this.plan, older)
    if (patches.length === 0) return 'the plan is just so already'
    const change: Change = {
      id: this.newId(),
      kind: 'patches',
      summary: `Restore revision ${revision}`,
      patches: patches as Extract<Change, { kind: 'patches' }>['patches'],
    }
    const outcome = runChange(this.plan, change)
    const step = outcome.ok
      ? { summary: outcome.summary, patches: outcome.patches, inverse: outcome.inverse }
      : undefined
    return this.adopt(
      {
        outcome,
        history: step ? { done: [...this.history.done, step], undone: [] } : this.history,
      },
      () => change,
    )
  }

  // --- conflicts

  /** Does a held change on the plan as it is now. Gives the reason where that is not possible. */
  keepMine(changeId: string): string | undefined {
    const found = this.held.find((h) => h.change.id === changeId)
    if (!found) return undefined
    const outcome = runChange(this.plan, found.change)
    if (!outcome.ok) return outcome.problems[0]!.reason
    this.held = this.held.filter((h) => h !== found)
    if (outcome.patches.length === 0) {
      void this.keep.remove([changeId])
      this.settle()
      this.changed()
      return undefined
    }
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
    if (this.pending.length === 0 && this.held.length === 0 && this.saveState === 'conflict')
      this.saveState = 'saved'
    this.changed()
  }

  private putAside(change: Change, reason: string): void {
    this.hold([asideOf(change, reason)])
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
  /** Told what the server has now, after notices may have been missed. */
  compare(now: Base): void {
    const { revision, at } = baseOf(this.server)
    if (now.revision === revision && now.at === at) return
    this.unsure = true
    void this.sync()
  }

  /** Sends what is pending and fetches what is new, until neither is left or the server is away. */
  async sync(): Promise<void> {
    if (this.busy) return
    this.busy = true
    try {
      // Whether the server is back is only known when it answered.
      if (this.saveState === 'unreachable' || this.saveState === 'signed-out') this.unsure = true
      while (this.pending.length > 0 || this.newest > this.server.revision || this.unsure) {
        const answer = this.pending.length > 0 ? this.send() : this.catchUp()
        this.unsure = false
        await answer
      }
      this.settle()
    } catch (error) {
      const failed = error as Failed
      if (isAway(failed)) this.saveState = 'unreachable'
      else if (failed.status === 401) this.saveState = 'signed-out'
      else {
        this.complaint = failed.data?.message ?? 'The server refused this.'
        this.saveState = 'unreachable'
      }
    } finally {
      this.busy = false
      this.changed()
    }
  }

  private async send(): Promise<void> {
    const batch = firstBatch(this.pending)
    this.saveState = 'saving'
    this.changed()
    try {
      const reply = await this.remote.save(this.server.id, this.base, batch)
      await this.saved(batch, reply)
    } catch (error) {
      const failed = error as Failed
      const wrong = failed.data?.data?.changeId
      if (failed.status === 409) await this.catchUp()
      else if (failed.status === 422 && wrong)
        this.reject(
          [wrong],
          failed.data?.data?.problems?.[0]?.reason ?? failed.data?.message ?? 'refused',
        )
      else if (failed.status === 403 || failed.status === 400 || failed.status === 413)
        this.reject(
          batch.map((c) => c.id),
          failed.data?.message ?? 'refused',
        )
      else throw error
    }
  }

  private async saved(batch: readonly Change[], reply: SaveReply): Promise<void> {
    const sent = batch.map((c) => c.id)
    const isSent = new Set(sent)
    if (reply.merged) {
      const fresh = await this.remote.fetch(this.server.id, this.base)
      // Acknowledged is acknowledged, also what made no difference and is in no revision.
      this.done.push(...sent)
      await this.take(fresh)
    } else {
      let plan = this.server.plan
      for (const change of batch) {
        const outcome = runChange(plan, change)
        if (outcome.ok) plan = outcome.plan
      }
      const lines = [...reply.made]
        .sort((a, b) => b.number - a.number)
        .map((m) => ({ number: m.number, summary: m.summary, author: null, at: m.at }))
      this.pending = this.pending.filter((c) => !isSent.has(c.id))
      this.done.push(...sent)
      this.server = {
        ...this.server,
        plan,
        revision: reply.revision,
        revisions: [
          ...lines,
          ...this.server.revisions.filter((r) => !lines.some((l) => l.number === r.number)),
        ].slice(0, MOST_REVISIONS),
      }
      this.newest = Math.max(this.newest, reply.revision)
      this.replay()
      await this.put()
    }
  }

  private async catchUp(): Promise<void> {
    await this.take(await this.remote.fetch(this.server.id, this.base))
  }

  /** Keeps the newest plan; what is pending is on top of it from now on. */
  private async put(isOtherHistory = false): Promise<void> {
    this.base = baseOf(this.server)
    const done = this.done
    this.done = []
    for (const id of done) this.unkept.delete(id)
    await this.keep
      .putServer(
        this.server,
        done,
        this.pending.map((c) => c.id),
        isOtherHistory,
      )
      .catch(() => {})
  }

  /** Takes the newest plan and does what is pending again on top of it. */
  private async take(reply: SiteReply): Promise<void> {
    const { since, ...newest } = reply
    const server = { ...newest, plan: shareUnchanged(this.server.plan, newest.plan) }
    if (since === null) return this.beginAnew(server)
    if (server.revision < this.server.revision) return
    const touched = thingsOf(othersOf(since, this.pending).flatMap((r) => [...r.patches]))
    const merge = mergeChanges(this.server.plan, server.plan, since, this.pending)
    this.server = server
    this.history = withoutOvertaken(this.history, touched)
    // Another window of this browser may have saved what is held here.
    const saved = new Set(since.map((r) => r.changeId))
    this.done.push(...this.held.filter((h) => saved.has(h.change.id)).map((h) => h.change.id))
    this.held = this.held.filter((h) => !saved.has(h.change.id))
    // What is saved is done, and so is what makes no difference.
    const open = new Set(
      [...merge.steps, ...merge.conflicts, ...merge.refused].map((c) => c.changeId),
    )
    for (const id of this.done) open.delete(id)
    this.done.push(...this.pending.filter((c) => !open.has(c.id)).map((c) => c.id))
    this.pending = this.pending.filter((c) => open.has(c.id))
    const held = merge.conflicts
      .filter((c) => open.has(c.changeId))
      .map((conflict): Held => ({
        conflict,
        change: this.pending.find((c) => c.id === conflict.changeId)!,
      }))
    if (held.length > 0) this.hold(held)
    for (const r of merge.refused) {
      const change = this.pending.find((c) => c.id === r.changeId)
      if (change) this.putAside(change, r.problems[0]!.reason)
    }
    this.replay()
    this.newest = Math.max(this.newest, server.revision)
    this.settle()
    await this.put()
  }

  /**
   * The server has another history than the one that was seen here. Its plan is the plan; what was
   * not saved waits for a person.
   */
  private async beginAnew(server: ServerCopy): Promise<void> {
    const held: Held[] = []
    let mine = this.server.plan
    for (const change of this.pending) {
      const outcome = runChange(mine, change)
      if (!outcome.ok) {
        held.push(asideOf(change, outcome.problems[0]!.reason))
        continue
      }
      const [before, after] = [mine, outcome.plan]
      const anew = runChange(server.plan, change)
      held.push({
        change,
        conflict: {
          changeId: change.id,
          summary: `${outcome.summary}, ${SET_BACK}`,
          by: [],
          reason: anew.ok ? null : anew.problems[0]!.reason,
          things: thingsOf(outcome.patches).map((t) => ({
            ...t,
            before: valueOf(before, t),
            mine: valueOf(after, t),
            theirs: valueOf(server.plan, t),
          })),
        },
      })
      mine = after
    }
    this.server = server
    this.history = emptyHistory
    this.newest = server.revision
    this.hold(held)
    this.replay()
    this.settle()
    await this.put(true)
  }

  private reject(ids: readonly string[], reason: string): void {
    for (const id of ids) {
      const change = this.pending.find((c) => c.id === id)
      if (change) this.putAside(change, reason)
    }
    this.replay()
    this.history = emptyHistory
  }
}

/** Ids of the entities that held changes and saved ones disagree about. */
export const disputed = (held: readonly Held[]): Set<string> =>
  new Set(held.flatMap((h) => h.conflict.things.map((t) => t.id || t.top)))

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
