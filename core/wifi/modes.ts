/** Modes of a radio device: what each needs, what it cannot, and whose leases and addresses hold. */
import type { Mode } from '../plan'

export interface ModeFacts {
  readonly name: string
  readonly leases: string
  readonly address: string
  readonly keyAndName: string
  readonly cannot: string
}
/** Common practice. */
export const modeFacts: Readonly<Record<Mode, ModeFacts>> = {
  'access-point': {
    name: 'access point',
    leases: "the gateway's, as by cable",
    address: 'its own page in Management',
    keyAndName: 'those of the networks of the plan',
    cannot: 'reach further than its cable is long',
  },
  repeater: {
    name: 'repeater',
    leases: "the gateway's, through the air",
    address: 'one of the network that it repeats, by lease',
    keyAndName:
      'the same key; the same name lets devices choose by themselves, a suffix shows who serves',
    cannot: 'carry VLANs, nor more than half of what it hears with one radio',
  },
  client: {
    name: 'client',
    leases: "the gateway's, for what is cabled to it",
    address: 'one of the network that it joins, by lease',
    keyAndName: 'those of the network that it joins',
    cannot: 'send a network, nor, as a plain client, carry more than its own hardware address',
  },
  bridge: {
    name: 'bridge',
    leases: 'none of its own: frames pass as on a cable',
    address: 'one at each end, in Management',
    keyAndName: 'a key and a name that both ends have, and nobody else',
    cannot: 'serve clients',
  },
  router: {
    name: 'router behind a provider on the air',
    leases: 'its own, towards what is cabled to it',
    address: 'one of the provider outside, a subnet of its own inside that meets no other',
    keyAndName: "the provider's outside, its own inside",
    cannot: 'stand in the LAN: its leases would be the second ones',
  },
}
