/** What a command is given and gives. */
export interface Options {
  readonly from?: string
  readonly to?: string
  readonly service?: string
  readonly format?: string
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
