/**
 * Names that every object of the language answers to without having been given them (`constructor`,
 * `toString`, ...). Looked up in a map by id they find
 * something that nobody put there; written to, they change every object there is. So maps are asked
 * for their own keys only, and no id is one of them.
 */
export const isInherited = (name: string): boolean => name in Object.prototype

/** The value under a key that the map itself has; undefined where it has not. */
export const own = <T>(map: Readonly<Record<string, T>>, key: string): T | undefined =>
  Object.hasOwn(map, key) ? map[key] : undefined

/**
 * What stands under an id that something in a valid plan refers to; such an id is no inherited
 * name.
 * @throws Error where it is not there
 */
export function inPlan<T>(things: Readonly<Record<string, T>>, id: string): T {
  const found = things[id]
  if (found === undefined) throw new Error(`there is no '${id}' in the plan`)
  return found
}
