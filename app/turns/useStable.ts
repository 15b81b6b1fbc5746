import { shareUnchanged } from '@mast/core/plan'

/**
 * What is computed, but the very object of before where it says the same: a field that is given
 * another list of choices is drawn anew.
 */
export const useStable = <T>(make: () => T): ComputedRef<T> =>
  computed<T>((before) => (before === undefined ? make() : shareUnchanged(before, make())))
