/** What is worked on during the day, from the gateway outwards; asked for each device. */
import type { Device } from '../plan'
import { remembered } from '../remember'
import type { SiteModel } from '../topology'
import { Day } from './day'

export const gearOf = remembered<SiteModel, readonly Device[]>((model) => new Day(model).gear)
