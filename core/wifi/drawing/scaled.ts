/** A picture under a plan of the place, brought to scale by two points and how far they are apart. */
import type { Floor } from '../../plan'

export type Picture = NonNullable<Floor['picture']>
interface Point {
  readonly x: number
  readonly y: number
}
const MOST_METRES = 5000
/** Two taps on one spot say nothing. */
const LEAST_METRES = 0.01
const millimetre = (n: number): number => Math.round(n * 1000) / 1000

/** As large as the plan is wide, or as deep where that is less. */
export function fitted(
  floor: Pick<Floor, 'widthM' | 'depthM'>,
  fileId: string,
  px: { readonly widthPx: number; readonly heightPx: number },
): Picture {
  const scale = Math.min(floor.widthM / px.widthPx, floor.depthM / px.heightPx)
  return {
    ...{ fileId, x: 0, y: 0 },
    widthM: millimetre(px.widthPx * scale),
    depthM: millimetre(px.heightPx * scale),
  }
}

/**
 * The plan with its picture so large that two points on it are so many metres apart. The picture
 * stays where its upper left corner is; the plan grows where the picture would stand out, and
 * shrinks with it where nothing is drawn on it yet.
 * @param a @param b on the plan as it is now, m
 * @returns what changes on the plan, or why not
 */
export function scaled(
  floor: Pick<Floor, 'widthM' | 'depthM' | 'picture'>,
  a: Point,
  b: Point,
  apartM: number,
  isEmpty: boolean,
): Pick<Floor, 'widthM' | 'depthM' | 'picture'> | { readonly refused: string } {
  const { picture } = floor
  if (!picture) return { refused: 'there is no picture to bring to scale' }
  const now = Math.hypot(a.x - b.x, a.y - b.y)
  if (!(now >= LEAST_METRES)) return { refused: 'both points are the same; tap two, far apart' }
  if (!(apartM > 0)) return { refused: 'say how far apart they are, m; more than 0' }
  const factor = apartM / now
  const [widthM, depthM] = [picture.widthM * factor, picture.depthM * factor]
  const [right, bottom] = [picture.x + widthM, picture.y + depthM]
  if (Math.max(right, bottom) > MOST_METRES)
    return {
      refused:
        `the picture would be ${Math.round(widthM)} x ${Math.round(depthM)} m; ` +
        `a plan has at most ${MOST_METRES} m`,
    }
  if (Math.min(widthM, depthM) < 0.1)
    return { refused: `the picture would be ${widthM.toFixed(2)} x ${depthM.toFixed(2)} m` }
  const size = (of: number, edge: number): number =>
    millimetre(Math.max(1, isEmpty ? edge : Math.max(of, edge)))
  return {
    widthM: size(floor.widthM, right),
    depthM: size(floor.depthM, bottom),
    picture: { ...picture, widthM: millimetre(widthM), depthM: millimetre(depthM) },
  }
}

/** Corners as they are typed, all on the plan; or which is not, in words. */
export function cornersOn(
  floor: Pick<Floor, 'widthM' | 'depthM'>,
  text: string,
): { readonly points: readonly Point[] } | { readonly refused: string } {
  for (const pair of text.trim().split(/\s+/)) {
    const [p] = pointsOf(pair) ?? []
    if (!p || p.x < 0 || p.y < 0 || p.x > floor.widthM || p.y > floor.depthM)
      return {
        refused: `'${pair}' is no corner on the plan; expected for example 1,1 5,1 5,4`,
      }
  }
  return { points: pointsOf(text)! }
}
export const cornerWords = (points: readonly Point[]): string =>
  points.map((p) => `${p.x},${p.y}`).join(' ')

/** `3,4 9,4.5`: points in metres; null where it is anything else. */
export function pointsOf(text: string): readonly Point[] | null {
  const points = text
    .trim()
    .split(/\s+/)
    .map((pair) => pair.split(/[,;]/).map((n) => (n.trim() === '' ? NaN : Number(n))))
  return points.every((p) => p.length === 2 && p.every(Number.isFinite))
    ? points.map(([x, y]) => ({ x: x!, y: y! }))
    : null
}
