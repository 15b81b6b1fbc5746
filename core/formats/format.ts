/**
 * A form in which (part of) a plan is written or read. What is said here is all that the interface,
 * the command line, its help, the docs and the judging by real programs know of it.
 */
import type { EditCall, SitePlan } from '../plan'
import type { SiteModel } from '../topology'

export interface LineProblem {
  readonly line: number
  readonly column: number
  readonly reason: string
}

/** What a file says, as edits that bring it into the plan. */
export interface Reading {
  readonly edits: readonly EditCall[]
  /** What the edits do, in words. */
  readonly said: string
  /** Lines that cannot be used. */
  readonly problems: readonly LineProblem[]
  /** Lines that are understood and have no place in a plan. */
  readonly leftOut: readonly LineProblem[]
  /** What the plan does not know, with the edit that takes it in where that is possible. */
  readonly newcomers: readonly (LineProblem & { readonly takeIn: EditCall | null })[]
}

export interface WriteContext {
  readonly model: SiteModel
  /** Grows from one writing to the next, for what counts its versions. */
  readonly serial: number
  /** How far the clocks of the site are ahead of UTC, min. */
  readonly utcOffset: number
}

/** The real program that is asked whether it takes a file. */
export interface Judge {
  readonly program: string
  /** @param root a folder of its own, in which the file lies by its name at `at` */
  args(file: string, root: string): readonly string[]
  /** Where the program looks for its file, within the folder; the folder itself is usual. */
  readonly at?: string
  /** The same with something in it that the program has to refuse. */
  spoil(text: string): string
}

export interface Format {
  readonly id: string
  readonly title: string
  /** On which sheet it is offered. */
  readonly sheet: string
  /** What its files are called, for the docs. */
  readonly files: string
  readonly mediaType: string
  /** Whether a file is of it. Asked in the order of the list; the first that says so has it. */
  looksLike?(fileName: string, text: string): boolean
  read?(plan: SitePlan, text: string, fileName: string): Reading
  /** Files by name; none where there is nothing to write. */
  write?(context: WriteContext): Readonly<Record<string, string>>
  /** Said where there is nothing to write. */
  readonly nothing?: string
  readonly judge?: Judge
}
export const defineFormat = (format: Format): Format => format
