/** The browser's database (IndexedDB) and what stands in it. */
import { openDB, type DBSchema, type IDBPDatabase, type OpenDBCallbacks } from 'idb'
import type { Change, PlanPatch, SitePlan } from '@mast/core/plan'
import type { Act } from './fieldQueue'
import type { Base } from '@mast/api'
import type { Held, ServerCopy } from './workingCopy'

/**
 * A site beside its plan, and how many steps lead from the plan that is kept whole to the newest.
 */
export interface Head extends Omit<ServerCopy, 'plan'> {
  readonly steps: number
}
interface Stores extends DBSchema {
  heads: { key: string; value: Head }
  /** Whole plans, each some steps old. */
  sites: { key: string; value: { readonly id: string; readonly plan: SitePlan } }
  steps: {
    key: [string, number]
    value: {
      readonly siteId: string
      readonly number: number
      readonly patches: readonly PlanPatch[]
    }
  }
  changes: {
    key: string
    value: {
      readonly id: string
      readonly siteId: string
      readonly order: number
      readonly change: Change
      readonly conflict: Held['conflict'] | null
      /** Rows of earlier versions have none. */ readonly base?: Base
    }
    indexes: { site: string }
  }
  /** Answers of routes that a sheet needs without a network, by their path. */
  answers: { key: string; value: { readonly path: string; readonly value: unknown } }
  acts: { key: string; value: Act; indexes: { site: string } }
}
export type Database = IDBPDatabase<Stores>
export const storeNames = ['heads', 'sites', 'steps', 'changes', 'answers', 'acts'] as const

const VERSION = 3
let opened: Promise<Database> | undefined

type Upgrade = NonNullable<OpenDBCallbacks<Stores>['upgrade']>
/** Brings the stores of an older version of the application up to this one. */
async function bringUp(
  db: Parameters<Upgrade>[0],
  from: number,
  tx: Parameters<Upgrade>[3],
): Promise<void> {
  if (from < 1) {
    db.createObjectStore('sites', { keyPath: 'id' })
    db.createObjectStore('changes', { keyPath: 'id' }).createIndex('site', 'siteId')
    db.createObjectStore('answers', { keyPath: 'path' })
    db.createObjectStore('acts', { keyPath: 'id' }).createIndex('site', 'siteId')
  }
  if (from < 2) {
    db.createObjectStore('steps', { keyPath: ['siteId', 'number'] })
    const heads = db.createObjectStore('heads', { keyPath: 'id' })
    // The first version kept the head in one with the plan.
    for (const { plan, ...head } of (await tx
      .objectStore('sites')
      .getAll()) as unknown as ServerCopy[]) {
      await heads.put({ ...head, steps: 0 })
      await tx.objectStore('sites').put({ id: head.id, plan })
    }
  }
  // Before, what was saved here bore this device's time, not the server's.
  if (from === 1 || from === 2)
    for (const head of await tx.objectStore('heads').getAll())
      await tx.objectStore('heads').put({ ...head, revisions: [] })
}

export const database = (): Promise<Database> =>
  (opened ??= openDB<Stores>('able-mast', VERSION, {
    // What cannot be brought up is left as it was, and the database does not open.
    upgrade: (db, from, _, tx) => void bringUp(db, from, tx).catch(() => tx.abort()),
    // Another window with a newer application needs the database; this one opens it again when it
    // next needs it.
    blocking(_, __, event) {
      ;(event.target as IDBDatabase).close()
      opened = undefined
    },
    terminated: () => {
      opened = undefined
    },
  }))
