/**
 * The kind of a fact whose value is still to be typed: nothing is recorded of it before, so that
 * what is not known does not count as known.
 */
export function useChosenKind<K extends string>(stored: () => K | null) {
  const awaited = ref<K | null>(null)
  // What is recorded is what it is; that nothing is any more may be just the choice.
  watch(stored, (now) => {
    if (now !== null) awaited.value = null
  })
  return {
    kind: computed<K | null>(() => awaited.value ?? stored()),
    await: (kind: K | null): void => {
      awaited.value = kind
    },
  }
}

/** What a choice says that nobody has been told of yet. */
export const NOT_KNOWN = { title: 'not known yet', value: null }
