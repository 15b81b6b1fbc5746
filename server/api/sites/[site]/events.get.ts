import { followSite, type NoticeName, type notices, type Sendable } from '@mast/api'
import { createEventStream } from 'h3'
import type { z } from 'zod'
import { db } from '../../../db/database'
import { route } from '../../../http/route'
import { accountOf } from '../../../http/session'
import { subscribe } from '../../../live/notices'
import { membership } from '../../../members/members'
import { headOf } from '../../../sites/revisions'
import { Shares } from '../../../work/queue'

const KEEP_ALIVE_MS = 15_000
/** A few screens, each with a few windows. */
const streams = new Shares('live screens of one account', 40)

export default route(followSite, ({ event, account, site }) => {
  const leave = streams.take(account.id)
  const stream = createEventStream(event)
  const tell = <N extends NoticeName>(
    name: N,
    what: Sendable<z.output<(typeof notices)[N]>>,
  ): Promise<void> => stream.push({ event: name, data: JSON.stringify(what) })
  const mayStay = async (): Promise<void> => {
    const still = await accountOf(event)
    if (still && (await membership(site.id, still.id))) return
    await tell('ended', {})
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
    void (notice.topic === 'plan'
      ? tell('plan', { revision: notice.revision ?? null })
      : notice.topic === 'devices'
        ? tell('devices', { device: notice.device ?? null })
        : tell(notice.topic, {}))
  })
  const timer = setInterval(() => void tell('alive', {}), KEEP_ALIVE_MS)
  stream.onClosed(async () => {
    clearInterval(timer)
    stop()
    leave()
    await stream.close()
  })
  // What was told before this stream was there is lost on it: it begins with what there is. A site
  // that is removed meanwhile ends the membership too.
  void headOf(db(), site.id)
    .then((head) => tell('now', head))
    .catch(() => stream.close())
  return stream.send()
})
