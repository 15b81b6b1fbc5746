/** The disciplines, in the order of the work. */
import { addresses } from '../addressing/discipline'
import { adoption } from '../adoption/discipline'
import { bridges } from '../bridges/discipline'
import { bringup } from '../bringup/discipline'
import { policy } from '../policy/discipline'
import { proof } from '../proof/discipline'
import { tunnels } from '../tunnels/discipline'
import { survey } from '../survey/discipline'
import { wiring } from '../topology/discipline'
import { uplinks } from '../uplinks/discipline'
import { wifi } from '../wifi/discipline'
import type { Discipline } from './discipline'

export const disciplines: readonly Discipline[] = [
  survey,
  uplinks,
  addresses,
  wiring,
  wifi,
  bridges,
  policy,
  tunnels,
  bringup,
  adoption,
  proof,
]
