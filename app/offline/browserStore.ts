/** What the browser keeps, in IndexedDB: plans as last seen, changes and field work that are not sent yet. */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import type { Change } from '@mast/core/plan'
import type { Act } from './fieldQueue'
import type { Held, Keep, ServerCopy } from './workingCopy'

interface KeptChange { readonly id: string; readonly siteId: string; readonly order: number; readonly change: Change; readonly conflict: Held['conflict'] | null }
interface Stores extends DBSchema {
  sites: { key: string; value: ServerCopy }
  changes: { key: string; value: KeptChange; indexes: { site: string } }
  /** Answers of routes that a sheet needs without a network, by their path. */
  answers: { key: string; value: { readonly path: string; readonly value: unknown } }
  acts: { key: string; value: Act; indexes: { site: string } }
}

let opened: Promise<IDBPDatabase<Stores>> | undefined
const database = (): Promise<IDBPDatabase<Stores>> =>
  (opened ??= openDB<Stores>('able-mast', 1, {
    upgrade(db) {
      db.createObjectStore('sites', { keyPath: 'id' })
      db.createObjectStore('changes', { keyPath: 'id' }).createIndex('site', 'siteId')
      db.createObjectStore('answers', { keyPath: 'path' })
      db.createObjectStore('acts', { keyPath: 'id' }).createIndex('site', 'siteId')
    },
    terminated: () => { opened = undefined },
  }))

// Plain copies: what comes from a store of the screen is wrapped in proxies that cannot be cloned.
const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
let order = Date.now()

export const browserKeep: Keep = {
  async load(siteId) {
    const db = await database()
    const [server, changes] = await Promise.all([db.get('sites', siteId), db.getAllFromIndex('changes', 'site', siteId)])
    if (!server) return undefined
    changes.sort((a, b) => a.order - b.order)
    return { server, pending: changes.filter((c) => !c.conflict).map((c) => c.change), held: changes.flatMap((c) => (c.conflict ? [{ change: c.change, conflict: c.conflict }] : [])) }
  },
  async putServer(server) { await (await database()).put('sites', plain(server)) },
  async putChanges(siteId, changes) {
    const tx = (await database()).transaction('changes', 'readwrite')
    await Promise.all([...changes.map((change) => tx.store.put({ id: change.id, siteId, order: order++, change: plain(change), conflict: null })), tx.done])
  },
  async hold(siteId, held) {
    const tx = (await database()).transaction('changes', 'readwrite')
    await Promise.all([...held.map(({ change, conflict }) => tx.store.put({ id: change.id, siteId, order: order++, change: plain(change), conflict: plain(conflict) })), tx.done])
  },
  async remove(ids) {
    const tx = (await database()).transaction('changes', 'readwrite')
    await Promise.all([...ids.map((id) => tx.store.delete(id)), tx.done])
  },
}

export const browserActs = {
  async load(siteId: string): Promise<Act[]> { return (await (await database()).getAllFromIndex('acts', 'site', siteId)).sort((a, b) => (a.at < b.at ? -1 : 1)) },
  async put(act: Act): Promise<void> { await (await database()).put('acts', plain(act)) },
  async remove(id: string): Promise<void> { await (await database()).delete('acts', id) },
}

/** The answer of a route, fetched where the server answers, else as it was kept. @throws what the server said, or that nothing is kept. */
export async function answered<T>(path: string, ask: () => Promise<T>): Promise<T> {
  try {
    const value = await ask()
    void database().then((db) => db.put('answers', { path, value: plain(value) })).catch(() => {})
    return value
  } catch (error) {
    if ((error as { status?: number }).status !== undefined) throw error
    const kept = await database().then((db) => db.get('answers', path)).catch(() => undefined)
    if (!kept) throw error
    return kept.value as T
  }
}

/** Forgets everything that belongs to an account. Unsent work included: ask before. */
export async function forgetAll(): Promise<void> {
  const db = await database()
  for (const name of ['sites', 'changes', 'answers', 'acts'] as const) await db.clear(name)
}
export async function unsentCount(): Promise<number> {
  const db = await database()
  return (await db.count('changes')) + (await db.count('acts'))
}
