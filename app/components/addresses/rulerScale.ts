/**
 * A linear scale over whole addresses of either family; kept apart from the drawing so that it can
 * be tried without one.
 */
import { addressBits, formatAddress, prefixAround, type Prefix } from '@mast/core/addressing'

export const WIDTH = 900
export const EDGE = 14

export interface View {
  readonly family: 4 | 6
  readonly first: bigint
  readonly last: bigint
}
export interface RulerScale {
  at(value: bigint): number
  /** The address under a point. */ from(x: number): bigint
}

/** Steps into which the view is cut to turn a bigint ratio into a number. */
const FINE = 1n << 40n

export function rulerScale({ first, last }: View, left: number, right: number): RulerScale {
  const size = last - first + 1n
  return {
    at: (value) => left + (Number(((value - first) * FINE) / size) / Number(FINE)) * (right - left),
    from: (x) => {
      const share = Math.min(1, Math.max(0, (x - left) / (right - left)))
      const value = first + (BigInt(Math.round(share * Number(FINE))) * size) / FINE
      return value > last ? last : value < first ? first : value
    },
  }
}

/** Marks at multiples of a power of two, as subnets lie; at most eight. */
export function ticks({ family, first, last }: View): { value: bigint; text: string }[] {
  let step = family === 4 ? 1n : 1n << 48n
  while ((last - first) / step > 7n) step *= 2n
  const list: { value: bigint; text: string }[] = []
  for (let value = ((first + step - 1n) / step) * step; value <= last; value += step)
    list.push({ value, text: formatAddress({ family, value }) })
  return list
}

/**
 * The subnet that begins where a span begins and ends nearest to a point: lengths differ by halves
 * and doubles.
 */
export function resized(p: Prefix, end: bigint): Prefix {
  const bits = addressBits(p.family)
  let best = p
  let error = -1n
  for (let length = 8; length <= Math.min(bits - 3, 64); length++) {
    const q = prefixAround({ family: p.family, value: p.network }, length)
    if (q.network !== p.network) continue
    const last = q.network + (1n << BigInt(bits - length))
    const off = last > end ? last - end : end - last
    if (error < 0n || off < error) {
      best = q
      error = off
    }
  }
  return best
}

/** Where in the drawing a pointer is. */
export function pointAt(event: PointerEvent): number {
  const box = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect()
  return ((event.clientX - box.left) / box.width) * WIDTH
}
export const grab = (event: PointerEvent): void =>
  (event.currentTarget as SVGElement).setPointerCapture(event.pointerId)
export const holds = (event: PointerEvent): boolean =>
  (event.currentTarget as SVGElement).hasPointerCapture(event.pointerId)
