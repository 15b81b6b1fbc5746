/** Ports of services: single ones and spans (both ends belong to it), as people write them. */
import type { Service } from './schema'

export type PortSpan = Service['ports'][number]
const ends = (p: PortSpan): readonly [number, number] =>
  typeof p === 'number' ? [p, p] : [p.first, p.last]

export const holdsPort = (list: readonly PortSpan[], port: number): boolean =>
  list.some((p) => {
    const [first, last] = ends(p)
    return port >= first && port <= last
  })
/** Whether every port of a list is in another. */
export const isWithin = (list: readonly PortSpan[], other: readonly PortSpan[]): boolean =>
  list.every((p) => holdsAll(merged(other), ends(p)))
const holdsAll = (
  spans: readonly (readonly [number, number])[],
  [first, last]: readonly [number, number],
): boolean => spans.some(([a, b]) => a <= first && last <= b)

/** In order, without overlaps; neighbours joined. */
function merged(list: readonly PortSpan[]): (readonly [number, number])[] {
  const out: [number, number][] = []
  for (const [first, last] of list.map(ends).sort((a, b) => a[0] - b[0])) {
    const top = out.at(-1)
    if (top && first <= top[1] + 1) top[1] = Math.max(top[1], last)
    else out.push([first, last])
  }
  return out
}

/** "80, 443, 5000-5010"; empty for none. */
export const portsInWords = (list: readonly PortSpan[]): string =>
  merged(list)
    .map(([a, b]) => (a === b ? String(a) : `${a}-${b}`))
    .join(', ')

/**
 * Ports that stand for all of a list among lists of rules: its ends, and where a rule begins or
 * ends within it. Between two of them every rule says the same.
 */
export function tellingPorts(
  list: readonly PortSpan[],
  rules: readonly (readonly PortSpan[])[],
): number[] {
  // Single ports stand for themselves; of most services there is nothing else.
  if (list.every((p) => typeof p === 'number')) return list as number[]
  const spans = list.map(ends)
  const out = new Set(spans.flat())
  const add = (p: number): void => {
    for (const [a, b] of spans) if (p > a && p < b) out.add(p)
  }
  for (const rule of rules)
    for (const span of rule) {
      const [first, last] = ends(span)
      add(first - 1)
      add(first)
      add(last)
      add(last + 1)
    }
  return [...out].sort((x, y) => x - y)
}

export type ReadPorts = { ok: true; ports: PortSpan[] } | { ok: false; reason: string }
/** Reads what a person types: numbers and spans between commas or blanks. */
export function readPorts(text: string): ReadPorts {
  const ports: PortSpan[] = []
  for (const part of text.split(/[,;\s]+/).filter(Boolean)) {
    const m = /^(\d{1,5})(?:[-:](\d{1,5}))?$/.exec(part)
    if (!m)
      return { ok: false, reason: `'${part}' is no port; expected for example 80, 443, 5000-5010` }
    const [first, last] = [Number(m[1]), Number(m[2] ?? m[1])]
    if (first < 1 || last > 65_535 || first > 65_535)
      return { ok: false, reason: `'${part}': ports run from 1 to 65535` }
    if (first > last) return { ok: false, reason: `'${part}' ends before it begins` }
    ports.push(first === last ? first : { first, last })
  }
  return { ok: true, ports }
}
