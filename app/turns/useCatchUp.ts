/**
 * The first list on its way to the second: some of the entries that differ are replaced. Where
 * entries came, went or changed places it is the second at once: what is half one and half the
 * other would say what never was.
 */
export function caughtUp<T>(
  now: readonly T[],
  wanted: readonly T[],
  keyOf: (entry: T) => string,
  step: number,
): readonly T[] {
  const isSameRow =
    now.length === wanted.length && now.every((entry, i) => keyOf(entry) === keyOf(wanted[i]!))
  if (!isSameRow) return wanted
  const next = [...now]
  let rest = step
  for (let i = 0; i < next.length; i++) {
    if (next[i] === wanted[i]) continue
    if (rest-- === 0) return next
    next[i] = wanted[i]!
  }
  return wanted
}

/**
 * A list that follows another some changed entries a turn, so that a drawing of many is not drawn
 * anew in one go.
 */
export function useCatchUp<T>(
  source: () => readonly T[],
  keyOf: (entry: T) => string,
  step: number,
): Readonly<Ref<readonly T[]>> {
  const shown = shallowRef(source())
  let leave: (() => void) | undefined
  function follow(): void {
    shown.value = caughtUp(shown.value, source(), keyOf, step)
    if (shown.value !== source()) leave = takeTurn(follow)
  }
  watch(source, () => {
    leave?.()
    leave = takeTurn(follow)
  })
  onScopeDispose(() => leave?.())
  return shown
}
