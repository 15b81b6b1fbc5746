/** What can be asked of a plan on the command line. */
import { disciplines } from '../disciplines'
import { check } from './check'
import { exportVerb } from './export'
import { importVerb } from './import'
import type { Verb } from './verb'

export const verbs: readonly Verb[] = [
  check,
  ...disciplines.flatMap((d) => d.verbs ?? []),
  exportVerb,
  importVerb,
]
export * from './verb'
