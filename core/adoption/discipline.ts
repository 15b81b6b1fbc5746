/** What is registered of devices and their controller. */
import { defineDiscipline } from '../disciplines/discipline'
import { adoptionCauses } from './causes'
import firmwareTooOld from './findings/firmwareTooOld'
import noTime from './findings/noTime'
import notOnWhenNeeded from './findings/notOnWhenNeeded'
import noController from './findings/noController'
import noSignIn from './findings/noSignIn'
import unknownName from './findings/unknownName'
import watchdogTarget from './findings/watchdogTarget'
import { adoptionFieldRules } from './fieldFindings'
import { adoptionTests } from './proofTests'
import { adoptionDay } from './day'

export const adoption = defineDiscipline({
  id: 'adoption',
  rules: [
    noController,
    firmwareTooOld,
    notOnWhenNeeded,
    noSignIn,
    noTime,
    unknownName,
    watchdogTarget,
  ],
  fieldRules: adoptionFieldRules,
  causes: adoptionCauses,
  tests: adoptionTests,
  day: adoptionDay,
})
