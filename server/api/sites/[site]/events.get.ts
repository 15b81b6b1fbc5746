import { createEventStream } from 'h3'
import { accountOf } from '../../../accounts/sessions'
import { db } from '../../../db/database'
import { membership, siteRoute } from '../../../http/handlers'
import { subscribe } from '../../../live/notices'
import { headOf } from '../../../sites/revisions'
import { Shares } from '../../../work/queue'

const KEEP_ALIVE_MS = 15_000
/** A few screens, each with a few windows. */
const streams = new Shares('live screens of one account', 40)

/**
 * Notices of changes, as server-sent events. Ends with the session or the membership that opened
 * it.
 */
export default siteRoute('viewer', undefined, ({ event, account, site }) => {
  const leave = streams.take(account.id)
  const stream = createEventStream(event)
  const mayStay = async (): Promise<void> => {
    const still = await accountOf(event)
    if (still && (await membership(site.id, still.id))) return
    await stream.push({ event: 'ended', data: '{}' })
    await stream.close()
  }
  const stop = subscribe((notice) => {
    // Ending the stream makes the browser open it again and read everything anew.
    if (notice.topic === 'missed') {
      void stream.close()
      return
    }
    if ('account' in notice) {
      if (notice.account === account.id) void mayStay()
      return
    }
    if (notice.site !== site.id) return
    if (notice.topic === 'members') void mayStay()
    void stream.push({
      event: notice.topic,
      data: JSON.stringify({ revision: notice.revision ?? null }),
    })
  })
  const timer = setInterval(() => void stream.push({ event: 'alive', data: '{}' }), KEEP_ALIVE_MS)
  stream.onClosed(async () => {
    clearInterval(timer)
    stop()
    leave()
    await stream.close()
  })
  // What was told before this stream was there is lost on it: it begins with what there is. A site
  // that is removed meanwhile ends the membership too.
  void headOf(db(), site.id)
    .then((head) => stream.push({ event: 'now', data: JSON.stringify(head) }))
    .catch(() => stream.close())
  return stream.send()
})
