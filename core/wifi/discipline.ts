/** What is registered of Wi-Fi. */
import { defineDiscipline } from '../disciplines/discipline'
import accessPoints from './findings/accessPoints'
import guestIsolationAlone from './findings/guestIsolationAlone'
import guestsTogether from './findings/guestsTogether'
import isolationLeaks from './findings/isolationLeaks'
import keylessNetwork from './findings/keylessNetwork'
import { wifiTests } from './proofTests'
import { wifiDay } from './day'

export const wifi = defineDiscipline({
  id: 'wifi',
  rules: [accessPoints, keylessNetwork, guestsTogether, guestIsolationAlone, isolationLeaks],
  tests: wifiTests,
  day: wifiDay,
})
