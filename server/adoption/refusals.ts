/** Why the controller does not listen to a device: no more than it needs to know. */
import { Refused } from '../refusal'

export const unauthorised = (): Refused =>
  new Refused('not-signed-in', 'the token or the secret is not right')
export const replayed = (): Refused => new Refused('out-of-turn', 'the sequence must count up')
