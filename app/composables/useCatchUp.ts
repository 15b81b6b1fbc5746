/**
 * A list that follows another some changed entries a turn, so that a drawing of many is not drawn anew in one go. Where entries come, go or
 * change places it follows in one step: what is half one and half the other would say what never was.
 */
export function useCatchUp<T>(source: () => readonly T[], keyOf: (entry: T) => string, step: number): Readonly<Ref<readonly T[]>> {
  const shown = shallowRef(source())
  let leave: (() => void) | undefined
  function follow(): void {
    const [now, wanted] = [shown.value, source()]
    const isSameRow = now.length === wanted.length && now.every((entry, i) => keyOf(entry) === keyOf(wanted[i]!))
    if (!isSameRow) { shown.value = wanted; return }
    const next = [...now]
    let rest = step
    for (let i = 0; i < next.length && rest > 0; i++) if (next[i] !== wanted[i]) { next[i] = wanted[i]!; rest-- }
    shown.value = rest > 0 ? wanted : next
    if (rest === 0) leave = takeTurn(follow)
  }
  watch(source, () => { leave?.(); leave = takeTurn(follow) })
  onScopeDispose(() => leave?.())
  return shown
}
