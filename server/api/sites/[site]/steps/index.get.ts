import { readSteps } from '@mast/api'
import { db } from '../../../../db/database'
import { route } from '../../../../http/route'
import { stepsOf } from '../../../../steps/steps'

export default route(readSteps, ({ site }) => stepsOf(db(), site.id))
