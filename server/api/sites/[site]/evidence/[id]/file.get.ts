import { readPhotograph } from '@mast/api'
import { getRequestHeader, setResponseHeader, setResponseStatus } from 'h3'
import { photographOf } from '../../../../../evidence/evidence'
import { route } from '../../../../../http/route'

/** Nothing in it may act: it is shown as a picture or not at all. */
export default route(readPhotograph, async ({ event, site, params }) => {
  const found = await photographOf(site.id, params.id)
  setResponseHeader(event, 'content-type', found.mediaType)
  setResponseHeader(event, 'content-security-policy', "default-src 'none'; sandbox")
  // Kept by the browser, but shown only after asking here whether whoever is signed in now may see
  // it.
  setResponseHeader(event, 'cache-control', 'private, no-cache')
  setResponseHeader(event, 'etag', `"${params.id}"`)
  if (getRequestHeader(event, 'if-none-match') === `"${params.id}"`) {
    setResponseStatus(event, 304)
    return ''
  }
  return found.file
})
