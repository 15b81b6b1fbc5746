/**
 * The look of a VLAN wherever it is drawn: colour, dash and number together, so that none is told
 * by colour alone.
 */
import type { Segment } from '@mast/core/plan'

const dashes = ['', '7 3', '2 3', '9 3 2 3', '4 2', '12 4', '2 2 6 2', '6 6'] as const

export interface Strand {
  readonly colour: string
  readonly dash: string
}

export function strandOf(segments: readonly Segment[], segmentId: string): Strand {
  const i = Math.max(
    0,
    segments.findIndex((s) => s.id === segmentId),
  )
  return { colour: `rgb(var(--v-theme-strand-${(i % 8) + 1}))`, dash: dashes[i % dashes.length]! }
}
