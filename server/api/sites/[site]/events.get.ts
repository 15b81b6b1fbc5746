import { createEventStream } from 'h3'
import { siteRoute } from '../../../http/handlers'
import { subscribe } from '../../../live/notices'

const KEEP_ALIVE_MS = 15_000

/** Notices of changes, as server-sent events. */
export default siteRoute('viewer', undefined, ({ event, site }) => {
  const stream = createEventStream(event)
  const stop = subscribe((notice) => {
    if (notice.site === site.id) void stream.push({ event: notice.topic, data: JSON.stringify({ revision: notice.revision ?? null }) })
  })
  const timer = setInterval(() => void stream.push({ event: 'alive', data: '{}' }), KEEP_ALIVE_MS)
  stream.onClosed(async () => {
    clearInterval(timer)
    stop()
    await stream.close()
  })
  void stream.push({ event: 'alive', data: '{}' })
  return stream.send()
})
