import { createError, defineEventHandler, getRequestHeader, setResponseHeader } from 'h3'
import { isOurHost, knownHosts } from '../http/host'

const names = knownHosts()

/** Before any route and any page: whoever came by a name that is not ours gets nothing. */
export default defineEventHandler((event) => {
  if (isOurHost(getRequestHeader(event, 'host'), names)) return
  // Nothing else is heard by this connection either, and what is left of its body is not waited
  // for.
  setResponseHeader(event, 'connection', 'close')
  throw createError({
    statusCode: 421,
    message:
      'this server does not know the name that it was called by; call it by its address, or ' +
      'start it with that name in MAST_HOSTS',
  })
})
