/** The plugs in two ports are exchanged. */
import { z } from 'zod'
import { defineFault } from './fault'
import { wiredHosts } from './onThePlan'

const id = z.string().max(64)

export const swappedCables = defineFault({
  kind: 'swapped-cables',
  schema: z.strictObject({ kind: z.literal('swapped-cables'), portIds: z.tuple([id, id]) }),
  of: (f) => [...f.portIds].sort().join('+'),
  offer(plan) {
    const [a, ...others] = wiredHosts(plan)
    const b = others.find((x) => x.host.addressing.segmentId !== a?.host.addressing.segmentId)
    if (!a || !b) return undefined
    const portIds: [string, string] = [a.at.id, b.at.id]
    return {
      fault: { kind: 'swapped-cables', portIds },
      label: `Exchange the plugs of ${a.host.name} and ${b.host.name}`,
    }
  },
  plugOf({ portIds: [a, b] }, portId) {
    return portId === a ? b : portId === b ? a : portId
  },
})
