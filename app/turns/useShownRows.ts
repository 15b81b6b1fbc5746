/**
 * A long list shown a piece at a time, so that no sheet keeps the screen waiting; on paper all of
 * it.
 */
const STEP = 16

export interface ShownRows<T> {
  readonly shown: ComputedRef<readonly T[]>
  readonly rest: ComputedRef<number>
  more(): void
  /** Shows as many as it takes to reach an entry. */ reach(index: number): void
}

/** @param step how many at a time; fewer where a row is heavy */
export function useShownRows<T>(
  rows: () => readonly T[],
  step: () => number = () => STEP,
): ShownRows<T> {
  const count = ref(printing.value ? Infinity : step())
  const all = computed(rows)
  watch(printing, (now) => {
    if (now) count.value = Infinity
  })
  return {
    shown: computed(() =>
      all.value.length <= count.value ? all.value : all.value.slice(0, count.value),
    ),
    rest: computed(() => Math.max(0, all.value.length - count.value)),
    more: () => {
      count.value += step()
    },
    reach: (index) => {
      if (index >= count.value) count.value = index + step()
    },
  }
}

/** Brings the rest of a drawing by itself, a piece a frame. */
export function useTheRest({ rest, more }: Pick<ShownRows<unknown>, 'rest' | 'more'>): void {
  let leave: (() => void) | undefined
  watch(
    rest,
    (n) => {
      leave?.()
      leave = n > 0 ? takeTurn(more) : undefined
    },
    { immediate: true },
  )
  onBeforeUnmount(() => leave?.())
}
