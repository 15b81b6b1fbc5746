/** What is registered of the day itself. */
import { defineDiscipline } from '../disciplines/discipline'
import { bringupFieldRules } from './fieldFindings'
import setUpImpossible from './findings/setUpImpossible'

export const bringup = defineDiscipline({
  id: 'bring-up',
  rules: [setUpImpossible],
  fieldRules: bringupFieldRules,
})
