/** Something that is worked out once when it is asked for, in a worker, and can be stopped. */
import { wrap, type Remote } from 'comlink'
import type { SitePlan } from '@mast/core/plan'
import type { AirWorker } from '~/workers/air.worker'

/** What lies in a store, as plain data that goes to a worker. */
export const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

export function useAirTask<T>() {
  const result = shallowRef<T | null>(null)
  const isWorking = ref(false)
  const failed = ref<string | undefined>()
  let thread: Worker | undefined
  function stop(): void {
    thread?.terminate()
    thread = undefined
    isWorking.value = false
  }
  async function run(
    plan: SitePlan,
    call: (worker: Remote<AirWorker>, plan: SitePlan) => Promise<T>,
  ): Promise<void> {
    stop()
    isWorking.value = true
    failed.value = undefined
    const mine = (thread = new Worker(new URL('../../workers/air.worker.ts', import.meta.url), {
      type: 'module',
    }))
    try {
      const found = await call(wrap<AirWorker>(mine), plain(plan))
      if (thread === mine) result.value = found
    } catch (error) {
      if (thread === mine) failed.value = errorText(error)
    }
    if (thread === mine) stop()
  }
  onBeforeUnmount(stop)
  return { result, isWorking, failed, run, stop }
}
