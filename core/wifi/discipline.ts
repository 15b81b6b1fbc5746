/** What is registered of Wi-Fi. */
import { defineDiscipline } from '../disciplines/discipline'
import airBeforeSegment from './findings/airBeforeSegment'
import accessPoints from './findings/accessPoints'
import extenderTooFar from './findings/extenderTooFar'
import guestIsolationAlone from './findings/guestIsolationAlone'
import guestsTogether from './findings/guestsTogether'
import isolationLeaks from './findings/isolationLeaks'
import keylessNetwork from './findings/keylessNetwork'
import lawfulRadios from './findings/lawfulRadios'
import modeConflicts from './findings/modeConflicts'
import offThePlan from './findings/offThePlan'
import oldSecurity from './findings/oldSecurity'
import portalOnOneBand from './findings/portalOnOneBand'
import reachesBeyond from './findings/reachesBeyond'
import sharedChannels from './findings/sharedChannels'
import telltaleName from './findings/telltaleName'
import tunedTooEarly from './findings/tunedTooEarly'
import unservedAreas from './findings/unservedAreas'
import { wifiCauses } from './causes'
import { wifiTests } from './proofTests'
import { wifiDay } from './day'

export const wifi = defineDiscipline({
  id: 'wifi',
  rules: [
    accessPoints,
    airBeforeSegment,
    keylessNetwork,
    oldSecurity,
    guestsTogether,
    guestIsolationAlone,
    isolationLeaks,
    portalOnOneBand,
    telltaleName,
    lawfulRadios,
    sharedChannels,
    tunedTooEarly,
    reachesBeyond,
    unservedAreas,
    extenderTooFar,
    modeConflicts,
    offThePlan,
  ],
  tests: wifiTests,
  causes: wifiCauses,
  day: wifiDay,
})
