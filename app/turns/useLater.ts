/**
 * Follows what something gives, in a turn of its own: what stands beside an edit comes up to date
 * after what was edited.
 */
export function useLater<T>(source: () => T): Readonly<Ref<T>> {
  const late = shallowRef(source()) as Ref<T>
  let leave: (() => void) | undefined
  watch(source, () => {
    leave?.()
    leave = takeTurn(() => {
      late.value = source()
    })
  })
  onScopeDispose(() => leave?.())
  return late
}
