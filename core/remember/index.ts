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

/**
 * The same, and where the parts that the answer depends on are those of the last object, the very
 * answer of the last: most edits change none of them.
 * @param parts compared one by one, by identity
 * @param make may build on the last answer
 */
export function selected<K extends object, V>(
  parts: (of: K) => readonly unknown[],
  make: (of: K, last: V | undefined) => V,
): (of: K) => V {
  let last: { readonly parts: readonly unknown[]; readonly made: V } | undefined
  return remembered((of) => {
    const now = parts(of)
    const isSame = last?.parts.length === now.length && now.every((p, i) => p === last!.parts[i])
    if (!isSame) last = { parts: now, made: make(of, last?.made) }
    return last!.made
  })
}
