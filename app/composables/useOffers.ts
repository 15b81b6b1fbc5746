/** What the fixes of a remark would do to the plan as it is. */
import type { Finding, Offer } from '@mast/core/findings'
import { analyst } from '~/workers/analyst'

/** One question at a time, so that an analysis waits for no more than one. */
let turn: Promise<unknown> = Promise.resolve()

/** Null until that is worked out; what was worked out before stays until then. */
export function useOffers(finding: () => Pick<Finding, 'id' | 'fixes'>) {
  const offers = shallowRef<readonly Offer[] | null>(null)
  let asked = 0
  const isStill = (n: number): boolean => n === asked
  onBeforeUnmount(() => asked++)
  watch(
    finding,
    ({ id, fixes }) => {
      const n = ++asked
      if (!fixes?.length) {
        offers.value = null
        return
      }
      const plain = JSON.parse(JSON.stringify({ id, fixes })) as Pick<Finding, 'id' | 'fixes'>
      turn = turn
        .then(async () => {
          if (!isStill(n)) return
          const found = await analyst().offers(plain)
          if (isStill(n)) offers.value = found
        })
        .catch((error: unknown) => console.error(error))
    },
    { immediate: true },
  )
  return offers
}
