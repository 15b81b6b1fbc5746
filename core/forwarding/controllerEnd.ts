/** The controller as the end of a trace. */
import type { ControllerPlace } from '../plan'
import type { Endpoint } from './fate'

export function controllerEnd(place: ControllerPlace): Endpoint {
  switch (place.kind) {
    case 'host':
      return { kind: 'device', id: place.device.id }
    case 'gateway':
      return { kind: 'gateway' }
    case 'peer':
      return { kind: 'peer', id: place.peerId }
    case 'internet':
      return { kind: 'internet' }
  }
}
