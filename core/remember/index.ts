/**
 * Computed things, kept. What is computed here depends on nothing but what it is given, and what it
 * is given is never changed in place, so the same object gives the same answer.
 */

/** The answer for each object, kept for as long as the object is. */
export function remembered<K extends object, V>(make: (of: K) => V): (of: K) => V {
  const known = new WeakMap<K, { readonly made: V }>()
  return (of) => {
    const before = known.get(of)
    if (before) return before.made
    const made = make(of)
    known.set(of, { made })
    return made
  }
}

/** A plan, and another that is tried beside it. */
const RECENT = 2

/**
 * The same, and where the parts that the answer depends on are those of one of the last objects, the
 * very answer of it: most edits change none of them.
 * @param parts compared one by one, by identity
 * @param make may build on the last answer
 */
export function selected<K extends object, V>(
  parts: (of: K) => readonly unknown[],
  make: (of: K, last: V | undefined) => V,
): (of: K) => V {
  let recent: readonly { readonly parts: readonly unknown[]; readonly made: V }[] = []
  return remembered((of) => {
    const now = parts(of)
    const same = recent.find(
      (r) => r.parts.length === now.length && now.every((p, i) => p === r.parts[i]),
    )
    const first = same ?? { parts: now, made: make(of, recent[0]?.made) }
    recent = [first, ...recent.filter((r) => r !== first)].slice(0, RECENT)
    return first.made
  })
}
