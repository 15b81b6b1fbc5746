/** The jobs of the trade, each on a small invented site. */
import { allInOne } from './allInOne'
import { branchBySerial } from './branchBySerial'
import { bridgePair } from './bridgePair'
import { cellularRouter } from './cellularRouter'
import { deadSwitch } from './deadSwitch'
import { desktopController } from './desktopController'
import type { Exercise } from './exercise'
import { farPoint } from './farPoint'
import { farRadio } from './farRadio'
import { friendsTunnel } from './friendsTunnel'
import { laptopController } from './laptopController'
import { manyModes } from './manyModes'
import { newRouter } from './newRouter'
import { oneMore } from './oneMore'
import { outdoorPoint } from './outdoorPoint'
import { ownPages } from './ownPages'
import { plugInExtender } from './plugInExtender'
import { portalGateway } from './portalGateway'
import { providerTunnel } from './providerTunnel'
import { safeWireless } from './safeWireless'
import { standAlonePoint } from './standAlonePoint'
import { tunnelServer } from './tunnelServer'
import { twoLines } from './twoLines'

/** In the order of their numbers. */
export const exercises: readonly Exercise[] = [
  branchBySerial,
  bridgePair,
  ownPages,
  allInOne,
  portalGateway,
  laptopController,
  friendsTunnel,
  providerTunnel,
  farPoint,
  cellularRouter,
  plugInExtender,
  standAlonePoint,
  outdoorPoint,
  newRouter,
  twoLines,
  desktopController,
  safeWireless,
  oneMore,
  tunnelServer,
  farRadio,
  manyModes,
  deadSwitch,
]
