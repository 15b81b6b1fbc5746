/** A failover tried on the stand-ins: a line is taken away and given back, and hosts ask on. */
import type { DrillAsked, DrillSeen } from '../control/messages'
import type { Fault } from '../faults'
import { HostBox } from '../devices/hostBox'
import { INTERNET_HOST } from '../outside/places'
import type { World } from './world'

/** How often each host asks, and how long it waits, s. */
const ASKS_SECONDS = 0.5
const ANSWER_SECONDS = 0.4
/** How long is listened before anything is pulled, s. */
const BEFORE_SECONDS = 5
/** How long it may take until the site goes by the line that is to be tried, and back, s. */
const AWAY_SECONDS = 3600

interface Asking {
  readonly segmentId: string
  readonly serviceId: string | null
  /** When it asked what was answered, and what was not. */
  readonly answered: number[]
  readonly lost: number[]
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
      for (const lineId of asked.away) world.setFault({ kind: 'dead-line', lineId }, false)
      resolve({ ok: false, text, overSeconds: null, backSeconds: null, segments: [] })
    }
    if (!gateway?.powered) return refuse('the gateway has no power yet')
    const all = asked.asks.flatMap((a) => asking(world, a, () => isOver) ?? [])
    const leads = (lineId: string): boolean => {
      const port = world.socketOfLine(lineId)
      return port !== undefined && gateway.leadsBy(port)
    }
    const after = (seconds: number, act: () => void): void => {
      queue.after(seconds, () => {
        try {
          act()
        } catch (error) {
          isOver = true
          reject(error as Error)
        }
      })
    }
    /** As soon as something is so, or after so long. */
    const when = (isSo: () => boolean, seconds: number, act: (isSo: boolean) => void): void => {
      const until = queue.now + seconds
      const look = (): void => {
        const so = isSo()
        if (so || queue.now >= until) act(so)
        else after(ASKS_SECONDS, look)
      }
      look()
    }
    const answeredSince = (at: number): Asking[] =>
      all.filter((a) => (a.answered.at(-1) ?? -Infinity) >= at)

    const takeAway = (): void => {
      for (const lineId of asked.away) {
        const put = world.setFault({ kind: 'dead-line', lineId }, true)
        if (!put.ok) return refuse(put.text)
      }
      when(
        () =>
          asked.away.every((id) => !leads(id)) &&
          answeredSince(queue.now - BEFORE_SECONDS).length > 0,
        AWAY_SECONDS,
        (isBy) => {
          if (isBy) after(BEFORE_SECONDS, pull)
          else refuse('no host gets out to the internet before anything is pulled')
        },
      )
    }
    const pull = (): void => {
      const began = answeredSince(queue.now - BEFORE_SECONDS)
      if (began.length === 0)
        return refuse('no host gets out to the internet before anything is pulled')
      const fault = { kind: faultOf[asked.kind], lineId: asked.lineId } as Fault
      const died = queue.now
      const put = world.setFault(fault, true)
      if (!put.ok) return refuse(put.text)
      after(asked.outageSeconds, () => {
        const mended = queue.now
        const wasLeft = !leads(asked.lineId)
        world.setFault(fault, false)
        when(
          () => leads(asked.lineId),
          asked.returnSeconds,
          (isBack) => {
            const backSeconds = wasLeft && isBack ? queue.now - mended : null
            const segments = began.map((a) => ({
              segmentId: a.segmentId,
              serviceId: a.serviceId,
              seconds: gapOf(a, died, mended),
            }))
            const over = segments.flatMap((s) => s.seconds ?? [])
            giveBack({
              ok: true,
              text: 'tried',
              // Until all that go on have a way out again.
              overSeconds: over.length > 0 ? Math.max(...over) : null,
              backSeconds,
              segments,
            })
          },
        )
      })
    }
    /** Leaves the site as it was. */
    const giveBack = (seen: DrillSeen): void => {
      for (const lineId of asked.away) world.setFault({ kind: 'dead-line', lineId }, false)
      // Where somebody has to go back by hand, whoever tried it does so at the end.
      const isByHand = !leads(asked.lineId)
      when(
        () => asked.away.every(leads),
        isByHand ? 0 : AWAY_SECONDS,
        () => {
          isOver = true
          if (isByHand || !asked.away.every(leads)) gateway.useAgain()
          resolve(seen)
        },
      )
    }
    after(BEFORE_SECONDS, takeAway)
  })
}

/**
 * How long somebody was without an answer, s: to the first after the last that was lost. 0 where
 * none was; null where it was not over when the line was given back.
 */
function gapOf({ answered, lost }: Asking, died: number, mended: number): number | null {
  const last = lost.findLast((at) => at >= died && at < mended)
  if (last === undefined) return 0
  const first = answered.find((at) => at > last)
  return first !== undefined && first < mended ? first - died : null
}

/** One host that asks until it is over; none where it has no power. */
function asking(
  world: World,
  { hostId, segmentId, serviceId, protocol, port }: DrillAsked['asks'][number],
  isOver: () => boolean,
): Asking | undefined {
  const box = world.boxes.get(hostId)
  if (!(box instanceof HostBox) || !box.powered) return undefined
  const { queue } = world
  const answered: number[] = []
  const lost: number[] = []
  const { endpoint } = box.host
  const by = { seconds: ANSWER_SECONDS }
  const ask = (): void => {
    if (isOver()) return
    const at = queue.now
    const done = (answer: string): void => {
      ;(answer === 'works' || answer === 'refused' ? answered : lost).push(at)
    }
    if (box.host.address !== null) {
      world.onAir.passPage(box)
      if (protocol === 'icmp') endpoint.ping(INTERNET_HOST, done, undefined, 1, by)
      else endpoint.connect(INTERNET_HOST, port ?? 443, done, undefined, 1, by)
    }
    queue.after(ASKS_SECONDS, ask)
  }
  ask()
  return { segmentId, serviceId, answered, lost }
}
