/** What is registered of Policy. */
import { defineDiscipline } from '../disciplines/discipline'
import { traceVerb } from '../forwarding/traceVerb'
import denyAfterAllow from './findings/denyAfterAllow'
import forwardAstray from './findings/forwardAstray'
import neverAsked from './findings/neverAsked'
import noWayToController from './findings/noWayToController'
import openManagement from './findings/openManagement'
import restrictedReachesStaff from './findings/restrictedReachesStaff'
import serverBehindDenial from './findings/serverBehindDenial'
import unknownEnd from './findings/unknownEnd'
import { policyTests } from './proofTests'
import { matrix } from './matrixVerb'

export const policy = defineDiscipline({
  id: 'policy',
  rules: [
    restrictedReachesStaff,
    denyAfterAllow,
    neverAsked,
    unknownEnd,
    forwardAstray,
    openManagement,
    serverBehindDenial,
    noWayToController,
  ],
  tests: policyTests,
  verbs: [matrix, traceVerb],
})
