/** What is registered of bridges. */
import { defineDiscipline } from '../disciplines/discipline'
import { bridgeCauses } from './causes'
import { bridgesDay } from './day'
import { bridgeTests } from './proofTests'
import dragging from './findings/dragging'
import endsDiffer from './findings/endsDiffer'
import farReaching from './findings/farReaching'
import notDescribed from './findings/notDescribed'
import obstructed from './findings/obstructed'
import sharedAir from './findings/sharedAir'
import skyHidden from './findings/skyHidden'
import thinMargin from './findings/thinMargin'
import tooSlow from './findings/tooSlow'
import trialReading from './findings/trialReading'
import unlawful from './findings/unlawful'
import windLoad from './findings/windLoad'

export const bridges = defineDiscipline({
  id: 'bridges',
  rules: [
    unlawful,
    endsDiffer,
    thinMargin,
    obstructed,
    tooSlow,
    trialReading,
    sharedAir,
    farReaching,
    dragging,
    windLoad,
    skyHidden,
    notDescribed,
  ],
  tests: bridgeTests,
  causes: bridgeCauses,
  day: bridgesDay,
})
