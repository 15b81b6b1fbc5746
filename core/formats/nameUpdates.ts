/** Updates of names that follow the address of the line, for nsupdate(1), without their keys. */
import { activeTunnels } from '../plan'
import { nameUpdateText } from '../tunnels'
import { defineFormat } from './format'

export const nameUpdates = defineFormat({
  id: 'name-updates',
  title: 'Updates of names (RFC 2136)',
  sheet: 'tunnels',
  files: 'NAME.nsupdate for nsupdate(1); $ADDRESS is the address of the line',
  mediaType: 'text/plain',
  write: ({ model }): Record<string, string> =>
    Object.fromEntries(
      activeTunnels(model.plan).flatMap(({ endpointName, dynamicName }) =>
        endpointName && dynamicName?.how === 'update'
          ? [[`${endpointName.toLowerCase()}.nsupdate`, nameUpdateText(endpointName, dynamicName)]]
          : [],
      ),
    ),
  nothing: 'no name of a tunnel is told to a server of its zone',
})
