/** What is registered of devices and their controller. */
import { defineDiscipline } from '../disciplines/discipline'
import { adoptionCauses } from './causes'
import firmwareTooOld from './findings/firmwareTooOld'
import { adoptionFieldRules } from './fieldFindings'
import { adoptionTests } from './proofTests'
import { adoptionDay } from './day'

export const adoption = defineDiscipline({
  id: 'adoption',
  rules: [firmwareTooOld],
  fieldRules: adoptionFieldRules,
  causes: adoptionCauses,
  tests: adoptionTests,
  day: adoptionDay,
})
