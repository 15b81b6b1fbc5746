/** A place as radio sees it: walls, senders, and the grid on which levels are worked out; metres. */

/** Right and down from the upper left corner of the plan, m. */
export interface Point {
  readonly x: number
  readonly y: number
}
/** A straight piece of wall. */
export interface Wall {
  readonly a: Point
  readonly b: Point
  /** What it takes of a signal that passes it, dB. */ readonly lossDb: number
}
export interface Grid {
  readonly x0: number
  readonly y0: number
  readonly stepM: number
  readonly columns: number
  readonly rows: number
}
export interface Sender {
  readonly at: Point
  /** Above the heads of those who receive, m. */ readonly aboveM: number
  readonly mhz: number
  /** Power and gain of the antenna in its best direction (EIRP), dBm. */ readonly eirpDbm: number
  /** null of one that sends all around. */
  readonly beam: {
    /** Clockwise from up the plan, degrees. */ readonly degrees: number
    /** Between its half-power points, degrees. */ readonly widthDegrees: number
    /** What is left behind it, dB under the best direction. */ readonly frontToBackDb: number
  } | null
}
/** What distance takes: `coefficient` 20 is free space, more is indoors (ITU-R P.1238). */
export interface Law {
  readonly coefficient: number
}

export const pointOf = (grid: Grid, column: number, row: number): Point => ({
  x: grid.x0 + column * grid.stepM,
  y: grid.y0 + row * grid.stepM,
})
