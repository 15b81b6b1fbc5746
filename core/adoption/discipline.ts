/** What is registered of devices and their controller. */
import { defineDiscipline } from '../disciplines/discipline'
import { adoptionCauses } from './causes'
import firmwareTooOld from './findings/firmwareTooOld'
import noController from './findings/noController'
import { adoptionFieldRules } from './fieldFindings'
import { adoptionTests } from './proofTests'
import { adoptionDay } from './day'

export const adoption = defineDiscipline({
  id: 'adoption',
  rules: [noController, firmwareTooOld],
  fieldRules: adoptionFieldRules,
  causes: adoptionCauses,
  tests: adoptionTests,
  day: adoptionDay,
})
