/** Brings older plan documents up to the present version, one step a version. */
import { PLAN_VERSION } from './schema'

export type JsonObject = Record<string, unknown>
/** Takes a document of version n to n + 1; the runner writes the version field. */
export type Migration = (document: JsonObject) => JsonObject

/** Steps by the version that they start from. Version 1 is the first that was released. */
export const migrations: Readonly<Record<number, Migration>> = {}

export type Migrated = { ok: true; document: JsonObject; from: number } | { ok: false; reason: string }

export function migrate(document: JsonObject, target: number = PLAN_VERSION, steps: Readonly<Record<number, Migration>> = migrations): Migrated {
  const from = document.version
  if (typeof from !== 'number' || !Number.isInteger(from) || from < 1) return { ok: false, reason: 'a plan needs a version: a whole number from 1' }
  if (from > target)
    return { ok: false, reason: `this plan has version ${from}, this program reads up to ${target}; update the program to open it` }
  let current = document
  for (let version = from; version < target; version++) {
    const step = steps[version]
    if (!step) return { ok: false, reason: `there is no way from version ${version} to ${version + 1}` }
    current = { ...step(current), version: version + 1 }
  }
  return { ok: true, document: current, from }
}
