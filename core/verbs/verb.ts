/** What can be asked of a plan on the command line: what it is given, and what it gives. */
import type { SitePlan } from '../plan'

export interface Options {
  readonly from?: string
  readonly to?: string
  readonly service?: string
  /** A line that leads nowhere. */ readonly dead?: string
  readonly format?: string
  readonly now: Date
  /** The file that is brought in. */
  readonly input?: { readonly name: string; readonly text: string }
}
export interface Outcome {
  /** 0 clean, 1 blockers or not delivered, 2 unusable input. */
  readonly status: 0 | 1 | 2
  readonly text: string
  readonly json: unknown
  /** Files to write, by name. */
  readonly files?: Readonly<Record<string, string>>
}

/** The input cannot be used for what was asked; the message says why. */
export class Unusable extends Error {}

export interface Verb {
  readonly name: string
  /** Behind the name, as it is typed. */
  readonly usage: string
  /** What it does, in a few words. */
  readonly about: string
  /** @throws Unusable where what it is given does not do. */
  run(plan: SitePlan, options: Options): Outcome
}
export const defineVerb = (verb: Verb): Verb => verb
