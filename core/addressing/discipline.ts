/** What is registered of Addresses. */
import { defineDiscipline } from '../disciplines/discipline'
import { addressCauses } from './causes'
import addressInWrongPlace from './findings/addressInWrongPlace'
import habits from './findings/habits'
import knownNetworks from './findings/knownNetworks'
import lanOverlapsProvider from './findings/lanOverlapsProvider'
import leasesMissing from './findings/leasesMissing'
import notPlaced from './findings/notPlaced'
import poolMissing from './findings/poolMissing'
import poolCovers from './findings/poolCovers'
import poolTooSmall from './findings/poolTooSmall'
import publicSpace from './findings/publicSpace'
import relayUnreachable from './findings/relayUnreachable'
import routeNextHop from './findings/routeNextHop'
import secondLeaseServer from './findings/secondLeaseServer'
import sixtyFours from './findings/sixtyFours'
import subnetsOverlap from './findings/subnetsOverlap'
import { addressTests } from './proofTests'

export const addresses = defineDiscipline({
  id: 'addresses',
  rules: [
    lanOverlapsProvider,
    subnetsOverlap,
    knownNetworks,
    publicSpace,
    addressInWrongPlace,
    routeNextHop,
    notPlaced,
    leasesMissing,
    poolMissing,
    poolCovers,
    poolTooSmall,
    relayUnreachable,
    secondLeaseServer,
    sixtyFours,
    habits,
  ],
  causes: addressCauses,
  tests: addressTests,
})
