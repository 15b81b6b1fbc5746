import { getRequestHeader } from 'h3'
import { desiredFor } from '../../../adoption/controller'
import { deviceRoute } from '../../../http/deviceRoute'

export default deviceRoute(
  async (token) => token,
  undefined,
  ({ event, who }) =>
    desiredFor(
      who,
      /^"([0-9a-f]{64})"$/.exec(getRequestHeader(event, 'if-none-match') ?? '')?.[1] ?? null,
    ),
)
