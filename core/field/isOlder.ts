/** Versions of firmware, one against another. */
import { compare, validate } from 'compare-versions'

/** Whether a version is lower; what is no version is not known to be older than anything. */
export const isOlder = (a: string, b: string): boolean =>
  validate(a) && validate(b) && compare(a, b, '<')
