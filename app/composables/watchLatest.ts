/**
 * Runs asynchronous work at once and for every change of a source. Answers may come in another
 * order than they were asked for:
 * `isLast()` says after each wait whether a later change has overtaken this one, and only the last
 * may be shown.
 */
export function watchLatest<T>(
  source: () => T,
  work: (value: T, isLast: () => boolean) => Promise<void>,
): void {
  watch(
    source,
    async (value, _before, onCleanup) => {
      let last = true
      onCleanup(() => {
        last = false
      })
      await work(value, () => last)
    },
    { immediate: true },
  )
}
