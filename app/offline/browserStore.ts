/**
 * What the browser keeps, in IndexedDB: plans as last seen, changes and field work that are not
 * sent yet.
 */
import { pathOf, type Asked, type Endpoint, type Reply } from '@mast/api'
import { patchesBetween, replayPatches, type SitePlan } from '@mast/core/plan'
import { database, storeNames } from './database'
import type { Act } from './fieldQueue'
import { baseOf, type Keep, type ServerCopy } from './workingCopy'

// Plain copies: what comes from a store of the screen is wrapped in proxies that cannot be cloned.
const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
let order = Date.now()

/** Asks the browser not to make room by throwing away what is not sent yet; it may refuse. */
const askToStay = (): void => {
  globalThis.navigator?.storage?.persist?.().catch(() => {})
}

const MOST_STEPS = 64
const MOST_PATCHES = 500
const stepsOf = (siteId: string): IDBKeyRange => IDBKeyRange.bound([siteId, 0], [siteId, Infinity])
/** What this window last kept of each site. */
const keptHere = new Map<string, ServerCopy>()

export const browserKeep: Keep = {
  async load(siteId) {
    const db = await database()
    const tx = db.transaction(['heads', 'sites', 'steps', 'changes'])
    const [head, whole, steps, changes] = await Promise.all([
      tx.objectStore('heads').get(siteId),
      tx.objectStore('sites').get(siteId),
      tx.objectStore('steps').getAll(stepsOf(siteId)),
      tx.objectStore('changes').index('site').getAll(siteId),
      tx.done,
    ])
    if (!head || !whole) return undefined
    const { id, role, revision, revisions } = head
    const server: ServerCopy = {
      id,
      role,
      revision,
      revisions,
      plan: replayPatches(
        whole.plan,
        steps.flatMap((s) => s.patches),
      ) as SitePlan,
    }
    keptHere.set(siteId, server)
    changes.sort((a, b) => a.order - b.order)
    const pending = changes.filter((c) => !c.conflict)
    // One that is newer than the plan is of a history that this plan is not of; the server will
    // tell.
    const bases = pending.flatMap((c) => c.base ?? [])
    const base =
      bases.find((b) => b.revision > server.revision) ??
      bases.reduce((oldest, b) => (b.revision < oldest.revision ? b : oldest), baseOf(server))
    return {
      server,
      base,
      pending: pending.map((c) => c.change),
      held: changes.flatMap((c) =>
        c.conflict ? [{ change: c.change, conflict: c.conflict }] : [],
      ),
    }
  },
  /**
   * Keeps what differs from the last one, and now and then the whole plan: copying all of a large
   * one keeps the screen waiting.
   */
  async putServer(server, saved, pending, isOtherHistory = false) {
    const before = keptHere.get(server.id)
    const patches = before && patchesBetween(before.plan, server.plan)
    const { plan, ...head } = server
    const tx = (await database()).transaction(['heads', 'sites', 'steps', 'changes'], 'readwrite')
    const changes = tx.objectStore('changes')
    await Promise.all(saved.map((id) => changes.delete(id)))
    const rows = await Promise.all(pending.map((id) => changes.get(id)))
    await Promise.all(
      rows.map((row) => row && !row.conflict && changes.put({ ...row, base: baseOf(server) })),
    )
    const there = await tx.objectStore('heads').get(server.id)
    // Another window of this browser may be ahead.
    if (there && there.revision > server.revision && !isOtherHistory) return tx.done
    const follows =
      patches &&
      !isOtherHistory &&
      there?.revision === before.revision &&
      there.steps < MOST_STEPS &&
      patches.length <= MOST_PATCHES
    const steps = !follows ? 0 : patches.length > 0 ? there.steps + 1 : there.steps
    await Promise.all([
      ...(!follows
        ? [
            tx.objectStore('sites').put({ id: server.id, plan }),
            tx.objectStore('steps').delete(stepsOf(server.id)),
          ]
        : patches.length > 0
          ? [tx.objectStore('steps').put({ siteId: server.id, number: steps, patches })]
          : []),
      tx.objectStore('heads').put({ ...plain(head), steps }),
      tx.done,
    ])
    keptHere.set(server.id, server)
  },
  async putChanges(siteId, changes, base) {
    askToStay()
    const tx = (await database()).transaction('changes', 'readwrite')
    await Promise.all([
      ...changes.map((change) =>
        tx.store.put({
          id: change.id,
          siteId,
          order: order++,
          change: plain(change),
          conflict: null,
          base: plain(base),
        }),
      ),
      tx.done,
    ])
  },
  async hold(siteId, held) {
    const tx = (await database()).transaction('changes', 'readwrite')
    await Promise.all([
      ...held.map(({ change, conflict }) =>
        tx.store.put({
          id: change.id,
          siteId,
          order: order++,
          change: plain(change),
          conflict: plain(conflict),
        }),
      ),
      tx.done,
    ])
  },
  async remove(ids) {
    const tx = (await database()).transaction('changes', 'readwrite')
    await Promise.all([...ids.map((id) => tx.store.delete(id)), tx.done])
  },
}

export const browserActs = {
  async load(siteId: string): Promise<Act[]> {
    return (await (await database()).getAllFromIndex('acts', 'site', siteId)).sort((a, b) =>
      a.at < b.at ? -1 : 1,
    )
  },
  async put(act: Act): Promise<void> {
    askToStay()
    await (await database()).put('acts', plain(act))
  },
  async remove(id: string): Promise<void> {
    await (await database()).delete('acts', id)
  },
}

/**
 * The answer of a route, fetched where the server answers, else as it was kept; what an earlier
 * version kept is none where this one does not know it.
 * @throws what the server said, or that nothing is kept.
 */
export async function answered<E extends Endpoint>(
  e: E,
  asked: Asked<E>,
  fetch: () => Promise<Reply<E>>,
): Promise<Reply<E>> {
  const path = pathOf(e, asked)
  try {
    const value = await fetch()
    void database()
      .then((db) => db.put('answers', { path, value: plain(value) }))
      .catch(() => {})
    return value
  } catch (error) {
    if ((error as { status?: number }).status !== undefined) throw error
    const kept = await database()
      .then((db) => db.get('answers', path))
      .catch(() => undefined)
    const read = kept && e.reply?.safeParse(kept.value)
    if (!read?.success) throw error
    return read.data as Reply<E>
  }
}

/** Forgets everything that belongs to an account. Unsent work included: ask before. */
export async function forgetAll(): Promise<void> {
  const db = await database()
  for (const name of storeNames) await db.clear(name)
  keptHere.clear()
}
export async function unsentCount(): Promise<number> {
  const db = await database()
  return (await db.count('changes')) + (await db.count('acts'))
}
