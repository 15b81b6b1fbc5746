/** What is registered of the day itself. */
import { defineDiscipline } from '../disciplines/discipline'
import { bringupFieldRules } from './fieldFindings'

export const bringup = defineDiscipline({ id: 'bring-up', fieldRules: bringupFieldRules })
