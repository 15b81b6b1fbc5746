import { setResponseHeader } from 'h3'
import { firmwareFor } from '../../../../../adoption/controller'
import { deviceRoute } from '../../../../../http/deviceRoute'
import { pathParameter } from '../../../../../http/pathParameter'
import { Refused } from '../../../../../refusal'

/**
 * The image that the plan wants on the device that asks, of whatever profile; the device checks it
 * against the digest that it got with its configuration.
 */
export default deviceRoute(
  async (token) => token,
  undefined,
  async ({ event, who }) => {
    const image = await firmwareFor(
      who,
      pathParameter(event, 'profile') ?? '',
      pathParameter(event, 'version') ?? '',
    )
    if (!image) throw new Refused('not-there', 'there is no such firmware for this device')
    setResponseHeader(event, 'content-type', 'application/octet-stream')
    return image
  },
)
