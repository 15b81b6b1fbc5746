/** A call of RESTCONF that is not answered, in the words of the standard (RFC 8040 7). */
import type { RestconfErrors } from '@mast/protocol/zeroTouch'

type Told = RestconfErrors['ietf-restconf:errors']['error'][number]

export class CallRefused extends Error {
  constructor(
    readonly status: number,
    readonly type: Told['error-type'],
    readonly tag: string,
    message: string,
  ) {
    super(message)
  }
}

export const errorsOf = (
  tag: string,
  type: Told['error-type'],
  message: string,
): RestconfErrors => ({
  'ietf-restconf:errors': {
    error: [{ 'error-type': type, 'error-tag': tag, 'error-message': message }],
  },
})
