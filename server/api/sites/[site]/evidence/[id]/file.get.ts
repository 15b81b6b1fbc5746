import { createError, getRequestHeader, setResponseHeader, setResponseStatus } from 'h3'
import { z } from 'zod'
import { photographOf } from '../../../../../evidence/evidence'
import { validated } from '../../../../../http/body'
import { param, siteRoute } from '../../../../../http/handlers'

/** A photograph. Nothing in it may act: it is shown as a picture or not at all. */
export default siteRoute('viewer', undefined, async ({ event, site }) => {
  const id = validated(z.uuid(), param(event, 'id'))
  const found = await photographOf(site.id, id)
  if (!found) throw createError({ statusCode: 404, message: 'there is no such photograph' })
  setResponseHeader(event, 'content-type', found.mediaType)
  setResponseHeader(event, 'content-security-policy', "default-src 'none'; sandbox")
  // Kept by the browser, but shown only after asking here whether whoever is signed in now may see
  // it.
  setResponseHeader(event, 'cache-control', 'private, no-cache')
  setResponseHeader(event, 'etag', `"${id}"`)
  if (getRequestHeader(event, 'if-none-match') === `"${id}"`) {
    setResponseStatus(event, 304)
    return ''
  }
  return found.file
})
