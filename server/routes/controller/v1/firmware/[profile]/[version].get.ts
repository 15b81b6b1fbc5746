import { createError, setResponseHeader } from 'h3'
import { catalogue } from '@mast/core/plan'
import { firmwareImage } from '../../../../../adoption/firmware'
import { deviceRoute } from '../../../../../http/deviceRoute'
import { param } from '../../../../../http/handlers'

/** Public octets: a device checks them against the digest that it got with its token. */
export default deviceRoute(undefined, async ({ event }) => {
  const profile = catalogue[param(event, 'profile')]
  const version = param(event, 'version')
  if (!profile || profile.firmware.wanted !== version) throw createError({ statusCode: 404, message: 'there is no such firmware' })
  setResponseHeader(event, 'content-type', 'application/octet-stream')
  return firmwareImage(profile.id, version)
})
