/** What is registered of the proof itself. */
import { defineDiscipline } from '../disciplines/discipline'
import { proofDay } from './day'

export const proof = defineDiscipline({ id: 'proof', day: proofDay })
