/** A failover tried on the stand-ins: a line is taken away and given back, and hosts ask on. */
import type { DrillAsked, DrillSeen } from '../control/messages'
import type { Fault } from '../faults'
import { HostBox } from '../devices/hostBox'
import { INTERNET_HOST } from '../devices/provider'
import type { World } from './world'

/** How often each host asks, and how long it waits, s. */
const ASKS_SECONDS = 0.5
const ANSWER_SECONDS = 0.4
/** How long is listened before anything is pulled, s. */
const BEFORE_SECONDS = 5

interface Asking {
  readonly segmentId: string
  /** When it asked what was answered. */
  readonly answered: number[]
}

const faultOf = { cable: 'dead-line', modem: 'modem-off', path: 'dead-path' } as const

/**
 * All of it happens in virtual time, event by event: whoever awaits runs when many a second of it
 * has gone by.
 */
export function runDrill(world: World, asked: DrillAsked): Promise<DrillSeen> {
  const { queue, gateway } = world
  let isOver = false
  return new Promise((resolve, reject) => {
    const refuse = (text: string): void => {
      isOver = true
      resolve({ ok: false, text, overSeconds: null, backSeconds: null, segments: [] })
    }
    if (!gateway?.powered) return refuse('the gateway has no power yet')
    const all = asked.asks.flatMap((a) => asking(world, a, () => isOver) ?? [])
    const fault = { kind: faultOf[asked.kind], lineId: asked.lineId } as Fault
    const took = (act: () => void) => (): void => {
      try {
        act()
      } catch (error) {
        isOver = true
        reject(error as Error)
      }
    }
    const pull = took(() => {
      const began = all.filter((a) => a.answered.length > 0)
      if (began.length === 0)
        return refuse('no host gets out to the internet before anything is pulled')
      const before = gateway.lineUsed
      const died = queue.now
      const put = world.setFault(fault, true)
      if (!put.ok) return refuse(put.text)
      const giveBack = took(() => {
        const mended = queue.now
        world.setFault(fault, false)
        const look = took(() => {
          const isBack = before !== null && gateway.lineUsed === before
          if (!isBack && queue.now - mended < asked.returnSeconds) {
            queue.after(ASKS_SECONDS, look)
            return
          }
          isOver = true
          // Where somebody has to go back by hand, whoever tried it does so at the end.
          if (!isBack) gateway.useAgain()
          const segments = began.map(({ segmentId, answered }) => {
            const first = answered.find((at) => at > died + 0.01)
            return {
              segmentId,
              seconds: first !== undefined && first < mended ? first - died : null,
            }
          })
          const over = segments.flatMap((s) => s.seconds ?? [])
          resolve({
            ok: true,
            text: 'tried',
            overSeconds: over.length > 0 ? Math.min(...over) : null,
            backSeconds: isBack ? queue.now - mended : null,
            segments,
          })
        })
        look()
      })
      queue.after(asked.outageSeconds, giveBack)
    })
    queue.after(BEFORE_SECONDS, pull)
  })
}

/** One host that asks until it is over; none where it has no power. */
function asking(
  world: World,
  { hostId, segmentId, protocol, port }: DrillAsked['asks'][number],
  isOver: () => boolean,
): Asking | undefined {
  const box = world.boxes.get(hostId)
  if (!(box instanceof HostBox) || !box.powered) return undefined
  const { queue } = world
  const answered: number[] = []
  const { endpoint } = box.host
  const by = { seconds: ANSWER_SECONDS }
  const ask = (): void => {
    if (isOver()) return
    const at = queue.now
    const done = (answer: string): void => {
      if (answer === 'works' || answer === 'refused') answered.push(at)
    }
    if (box.host.address !== null) {
      if (protocol === 'icmp') endpoint.ping(INTERNET_HOST, done, undefined, 1, by)
      else endpoint.connect(INTERNET_HOST, port ?? 443, done, undefined, 1, by)
    }
    queue.after(ASKS_SECONDS, ask)
  }
  ask()
  return { segmentId, answered }
}
