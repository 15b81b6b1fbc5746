/** What is registered of the lines to the internet. */
import { defineDiscipline } from '../disciplines/discipline'
import { uplinksCauses } from './causes'
import { uplinksFieldRules } from './fieldFindings'
import cellularFacts from './findings/cellularFacts'
import choices from './findings/choices'
import handOffContradicts from './findings/handOffContradicts'
import handOffUnknown from './findings/handOffUnknown'
import inbound from './findings/inbound'
import inspection from './findings/inspection'
import lineTests from './findings/lineTests'
import lineUnused from './findings/lineUnused'
import noLine from './findings/noLine'
import pppoeMtu from './findings/pppoeMtu'
import returnRule from './findings/returnRule'
import sharedParts from './findings/sharedParts'
import sharing from './findings/sharing'
import switchTimes from './findings/switchTimes'
import { uplinkTests } from './proofTests'
import { uplinkDay } from './day'

export const uplinks = defineDiscipline({
  id: 'uplinks',
  rules: [
    handOffUnknown,
    handOffContradicts,
    pppoeMtu,
    lineUnused,
    noLine,
    lineTests,
    returnRule,
    switchTimes,
    sharedParts,
    inbound,
    inspection,
    choices,
    sharing,
    cellularFacts,
  ],
  fieldRules: uplinksFieldRules,
  causes: uplinksCauses,
  tests: uplinkTests,
  day: uplinkDay,
})
