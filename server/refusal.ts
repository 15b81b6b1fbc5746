/**
 * Why something is not done, in words for whoever asked. Services throw it and know nothing of how
 * they were asked; `http/errors.ts` alone says what it is on the wire.
 */
import type { Refusal } from '@mast/api'

export type RefusalKind =
  /** What was asked is not understood. */
  | 'invalid'
  | 'not-signed-in'
  | 'not-allowed'
  | 'not-there'
  /** Somebody else was faster, or it is not the time for it. */
  | 'out-of-turn'
  /** It is understood, and cannot be done. */
  | 'not-possible'
  | 'too-often'
  /** It may be done in a moment. */
  | 'busy'
  /** Something that it needs answers, and not what it should. */
  | 'unfit'

export class Refused extends Error {
  constructor(
    readonly kind: RefusalKind,
    message: string,
    readonly data?: Refusal['data'],
    /** When to come again, s, where that is known. */
    readonly afterSeconds?: number,
  ) {
    super(message)
  }
}

/** A site was there when the request was looked at, and is not any more. */
export const siteIsGone = (): Refused => new Refused('not-there', 'the site was removed just now')
