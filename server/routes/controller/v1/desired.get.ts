import { getRequestHeader } from 'h3'
import { desiredFor } from '../../../adoption/controller'
import { bearer, deviceRoute } from '../../../http/deviceRoute'

export default deviceRoute(undefined, ({ event }) => desiredFor(bearer(event), /^"([0-9a-f]{64})"$/.exec(getRequestHeader(event, 'if-none-match') ?? '')?.[1] ?? null))
