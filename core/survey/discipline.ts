/** What is registered of Survey. */
import { defineDiscipline } from '../disciplines/discipline'
import controllerFull from './findings/controllerFull'
import deviceAbilities from './findings/deviceAbilities'
import duplicates from './findings/duplicates'
import licenceMissing from './findings/licenceMissing'
import serialShapes from './findings/serialShapes'
import noPower from './findings/noPower'

export const survey = defineDiscipline({
  id: 'survey',
  rules: [duplicates, serialShapes, licenceMissing, controllerFull, noPower, deviceAbilities],
})
