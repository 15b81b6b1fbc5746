/** What is registered of the lines to the internet. */
import { defineDiscipline } from '../disciplines/discipline'
import { uplinksCauses } from './causes'
import handOffContradicts from './findings/handOffContradicts'
import handOffUnknown from './findings/handOffUnknown'
import lineUnused from './findings/lineUnused'
import noLine from './findings/noLine'
import pppoeMtu from './findings/pppoeMtu'
import { uplinkTests } from './proofTests'
import { uplinkDay } from './day'

export const uplinks = defineDiscipline({
  id: 'uplinks',
  rules: [handOffUnknown, handOffContradicts, pppoeMtu, lineUnused, noLine],
  causes: uplinksCauses,
  tests: uplinkTests,
  day: uplinkDay,
})
