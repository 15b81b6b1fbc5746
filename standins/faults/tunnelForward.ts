/** Somebody before the line does not pass the port of a tunnel on. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstLine, lineSchema } from './onThePlan'
import { caller } from './onTunnels'

export const tunnelForward = defineFault({
  kind: 'tunnel-forward',
  schema: z.strictObject({
    kind: z.literal('tunnel-forward'),
    lineId: lineSchema,
    port: z.int().min(1).max(65_535),
  }),
  of: ({ port }) => String(port),
  offer(plan) {
    const found = caller(plan, (t) => t.listenPort !== null)
    const line = firstLine(plan)
    return found && line
      ? {
          fault: { kind: 'tunnel-forward', lineId: line.id, port: found.tunnel.listenPort! },
          label: `UDP ${found.tunnel.listenPort} is not passed on before ${line.name}`,
        }
      : undefined
  },
  spoilsLine: {
    of: ({ lineId }) => lineId ?? null,
    spoil({ port }, truth) {
      truth.shutPorts = [...truth.shutPorts, port]
    },
  },
})
