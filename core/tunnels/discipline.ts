/** What is registered of tunnels. */
import { defineDiscipline } from '../disciplines/discipline'
import { tunnelCauses } from './causes'
import { tunnelsDay } from './day'
import ike from './findings/ike'
import keys from './findings/keys'
import network from './findings/network'
import noAccess from './findings/noAccess'
import notFound from './findings/notFound'
import profiles from './findings/profiles'
import providers from './findings/providers'
import { tunnelTests } from './proofTests'

export const tunnels = defineDiscipline({
  id: 'tunnels',
  rules: [network, notFound, providers, noAccess, profiles, keys, ike],
  day: tunnelsDay,
  tests: tunnelTests,
  causes: tunnelCauses,
})
