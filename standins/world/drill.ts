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

export async function runDrill(world: World, asked: DrillAsked): Promise<DrillSeen> {
  const refuse = (text: string): DrillSeen => ({
    ok: false,
    text,
    overSeconds: null,
    backSeconds: null,
    segments: [],
  })
  const { queue, gateway } = world
  if (!gateway?.powered) return refuse('the gateway has no power yet')
  const wait = (seconds: number): Promise<void> =>
    new Promise((resolve) => void queue.after(seconds, resolve))
  let isOver = false
  const all = asked.asks.flatMap((a): Asking[] => {
    const box = world.boxes.get(a.hostId)
    if (!(box instanceof HostBox) || !box.powered) return []
    const asking: Asking = { segmentId: a.segmentId, answered: [] }
    const { endpoint } = box.host
    const by = { seconds: ANSWER_SECONDS }
    const ask = (): void => {
      if (isOver) return
      const at = queue.now
      const done = (answer: string): void => {
        if (answer === 'works' || answer === 'refused') asking.answered.push(at)
      }
      if (box.host.address !== null) {
        if (a.protocol === 'icmp') endpoint.ping(INTERNET_HOST, done, undefined, 1, by)
        else endpoint.connect(INTERNET_HOST, a.port ?? 443, done, undefined, 1, by)
      }
      queue.after(ASKS_SECONDS, ask)
    }
    ask()
    return [asking]
  })
  try {
    await wait(BEFORE_SECONDS)
    const began = all.filter((a) => a.answered.length > 0)
    if (began.length === 0)
      return refuse('no host gets out to the internet before anything is pulled')
    const before = gateway.lineUsed
    const fault = { kind: faultOf[asked.kind], lineId: asked.lineId } as Fault
    const died = queue.now
    const put = world.setFault(fault, true)
    if (!put.ok) return refuse(put.text)
    await wait(asked.outageSeconds)
    const mended = queue.now
    world.setFault(fault, false)
    const isBack = (): boolean => gateway.lineUsed === before
    while (!isBack() && queue.now - mended < asked.returnSeconds) await wait(ASKS_SECONDS)
    const backSeconds = isBack() && before !== null ? queue.now - mended : null
    const segments = began.map(({ segmentId, answered }) => {
      const first = answered.find((t) => t > died + 0.01)
      return {
        segmentId,
        seconds: first !== undefined && first < mended ? first - died : null,
      }
    })
    const over = segments.flatMap((s) => s.seconds ?? [])
    return {
      ok: true,
      text: 'tried',
      overSeconds: over.length > 0 ? Math.min(...over) : null,
      backSeconds,
      segments,
    }
  } finally {
    isOver = true
  }
}
