/** Octets read as JSON. What PostgreSQL cannot hold as text does not come in. */
import { Refused } from '../refusal'
import { isPlainText } from './text'

/** No request of ours is nested deeper; what walks a body may do so without looking. */
const MAX_DEPTH = 64

/**
 * @throws Refused where it is not UTF-8, not JSON, nested too deep, or has text that nothing can
 * keep.
 */
export function parseJson(octets: Uint8Array): unknown {
  const refuse = (message: string): never => {
    throw new Refused('invalid', message)
  }
  let text: string
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(octets)
  } catch {
    return refuse('the body is not UTF-8')
  }
  if (depthOf(text) > MAX_DEPTH) return refuse(`the body is nested deeper than ${MAX_DEPTH}`)
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    return refuse('the body is not JSON')
  }
  // Only an escape can bring in what UTF-8 cannot.
  if (text.includes('\\u') && !hasPlainTextOnly(value))
    return refuse('a text in the body has a NUL or half a character (a lone surrogate)')
  return value
}

/** How deep brackets open, outside of strings. */
function depthOf(text: string): number {
  let depth = 0
  let most = 0
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i)
    if (c === 0x22) {
      for (i++; i < text.length; i++) {
        const s = text.charCodeAt(i)
        if (s === 0x5c) i++
        else if (s === 0x22) break
      }
    } else if (c === 0x7b || c === 0x5b) {
      if (++depth > most) most = depth
    } else if (c === 0x7d || c === 0x5d) depth--
  }
  return most
}

function hasPlainTextOnly(value: unknown): boolean {
  if (typeof value === 'string') return isPlainText(value)
  if (Array.isArray(value)) return value.every(hasPlainTextOnly)
  if (typeof value === 'object' && value !== null)
    return Object.entries(value).every(([key, v]) => isPlainText(key) && hasPlainTextOnly(v))
  return true
}
