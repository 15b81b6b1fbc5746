/** Who is served on a plan of the place, worked out in a worker, coarse first and then fine. */
import { proxy, wrap, type Remote } from 'comlink'
import type { ClientType, SitePlan } from '@mast/core/plan'
import type { Band } from '@mast/core/radio'
import type { CoverageWorker, Drawn } from '~/workers/coverage.worker'

/** Points lie so far apart, m: no more than so many of them. */
const FINE_M = 0.5
const MOST_POINTS = 250_000
/** While somebody drags, it waits so long for the next move. */
const PAUSE_MS = 120

interface Wanted {
  readonly plan: SitePlan
  readonly floorId: string
  readonly band: Band
  readonly client: Omit<ClientType, 'id' | 'name'>
}

export function usePlaceAir(wanted: () => Wanted | null) {
  const drawn = shallowRef<Drawn | null>(null)
  const isWorking = ref(false)
  let thread: Worker | undefined
  function stop(): void {
    thread?.terminate()
    thread = undefined
    isWorking.value = false
  }
  async function work({ plan, floorId, band, client }: Wanted): Promise<void> {
    stop()
    const floor = plan.floors[floorId]
    if (!floor) return
    isWorking.value = true
    const mine = (thread = new Worker(
      new URL('../../workers/coverage.worker.ts', import.meta.url),
      {
        type: 'module',
      },
    ))
    const step = Math.max(FINE_M, Math.sqrt((floor.widthM * floor.depthM) / MOST_POINTS))
    const remote: Remote<CoverageWorker> = wrap<CoverageWorker>(mine)
    await remote
      .work(
        JSON.parse(JSON.stringify(plan)) as SitePlan,
        floorId,
        band,
        { ...client, bands: [...client.bands] },
        step,
        proxy((next: Drawn) => {
          if (thread === mine) drawn.value = next
          return Promise.resolve(thread === mine)
        }),
      )
      .catch(() => {})
    if (thread === mine) stop()
  }
  const start = useDebounceFn(() => {
    const now = wanted()
    if (now) void work(now)
    else {
      stop()
      drawn.value = null
    }
  }, PAUSE_MS)
  watch(
    wanted,
    (now, before) => {
      // Nothing of one place is shown on another.
      if (now?.floorId !== before?.floorId) drawn.value = null
      void start()
    },
    { immediate: true },
  )
  onBeforeUnmount(stop)
  return { drawn, isWorking, stop }
}
