/** Half a metre an arrow, with Shift five. */
const STEP_M = 0.5
const LONG_STEP_M = 5
const ways: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}

/** Where an arrow key moves a point of a plan, m; null for every other key. */
export function arrowMove(
  e: KeyboardEvent,
  from: { readonly x: number; readonly y: number },
): { x: number; y: number } | null {
  const way = ways[e.key]
  if (!way) return null
  const step = e.shiftKey ? LONG_STEP_M : STEP_M
  return { x: from.x + way[0] * step, y: from.y + way[1] * step }
}
