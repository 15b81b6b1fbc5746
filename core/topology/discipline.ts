/** What is registered of Wiring. */
import { defineDiscipline } from '../disciplines/discipline'
import { wiringCauses } from './causes'
import aheadOfGateway from './findings/aheadOfGateway'
import accessVlanUnassignable from './findings/accessVlanUnassignable'
import cableKinds from './findings/cableKinds'
import injectorReversed from './findings/injectorReversed'
import loops from './findings/loops'
import missingTag from './findings/missingTag'
import outdoorManagement from './findings/outdoorManagement'
import poeBudget from './findings/poeBudget'
import portRole from './findings/portRole'
import tagsAtHost from './findings/tagsAtHost'
import untaggedDiffers from './findings/untaggedDiffers'
import wayIntoManagement from './findings/wayIntoManagement'
import { wiringDay } from './day'

export const wiring = defineDiscipline({
  id: 'wiring',
  rules: [
    portRole,
    missingTag,
    untaggedDiffers,
    tagsAtHost,
    cableKinds,
    wayIntoManagement,
    outdoorManagement,
    loops,
    accessVlanUnassignable,
    poeBudget,
    injectorReversed,
    aheadOfGateway,
  ],
  causes: wiringCauses,
  day: wiringDay,
})
