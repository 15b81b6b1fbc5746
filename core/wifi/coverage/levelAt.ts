/** A level at one point, with every part of it: what is shown where somebody taps the plan. */
import { indoorLossDb } from '../../radio/distance'
import { crossedBy } from '../measured/crossings'
import { offBeamDb } from './levels'
import type { Law, Point, Sender, Wall } from './place'

export interface LevelParts {
  readonly dbm: number
  readonly eirpDbm: number
  /** Straight, with the height, m. */ readonly metres: number
  readonly distanceDb: number
  /** Numbers of the walls on the way. */ readonly crossed: readonly number[]
  readonly wallsDb: number
  readonly offBeamDb: number
}

/** @param aboveM the sender over the receiver, m */
export function levelAt(
  sender: Sender,
  at: Point,
  walls: readonly Wall[],
  { coefficient }: Law,
  aboveM = sender.aboveM,
): LevelParts {
  const [dx, dy] = [at.x - sender.at.x, at.y - sender.at.y]
  const metres = Math.hypot(dx, dy, aboveM)
  const distanceDb = indoorLossDb(sender.mhz, metres, coefficient)
  const crossed = crossedBy(at, sender.at, walls)
  const wallsDb = crossed.reduce((sum, w) => sum + walls[w]!.lossDb, 0)
  const off = sender.beam ? offBeamDb(sender.beam, dx, dy) : 0
  return {
    dbm: sender.eirpDbm - distanceDb - wallsDb - off,
    eirpDbm: sender.eirpDbm,
    metres,
    distanceDb,
    crossed,
    wallsDb,
    offBeamDb: off,
  }
}
