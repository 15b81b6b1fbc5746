/** How well a level is known beforehand. */
import type { Budget } from './budget/budget'

/** A path that is free is known so well, dB: gains, powers and cables as labelled (common practice). */
const FREE_DB = 3
/** And of what edges take, so much is uncertain: they are no knives (ITU-R P.526 4). */
const EDGES_SHARE = 0.35

export const spreadDb = ({ losses }: Pick<Budget, 'losses'>): number =>
  FREE_DB + EDGES_SHARE * losses.edges.totalDb
