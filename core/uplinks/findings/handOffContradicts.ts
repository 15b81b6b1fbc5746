/** What is recorded of a line and cannot be true of one line. */
import {
  address,
  classify,
  containsAddress,
  lastOf,
  prefixAround,
  type Address,
} from '../../addressing'
import { editCall, type HandOff } from '../../plan'
import { defineRule, type FindingBody } from '../../findings/rule'

/** An address with its length, as providers write it. */
function read(text: string | null): { own: Address; length: number } | undefined {
  const [own, length] = (text ?? '').split('/')
  if (!own || !length) return undefined
  return { own: address(own), length: Number(length) }
}

export default defineRule({
  id: 'survey/hand-off-contradicts',
  severity: 'blocker',
  catches: ['C-09'],
  title: 'The facts of a line contradict each other',
  sheet: 'survey',
  reads: ['uplinks'],
  *check(model) {
    for (const u of model.lines) {
      const h = u.handOff
      const forget = (facts: Partial<HandOff>, what: string): FindingBody['fixes'] => [
        {
          label: `Forget ${what} until it is read again`,
          edits: [editCall('recordHandOff', { uplinkId: u.id, facts })],
        },
      ]
      const fixed = h.mode === 'fixed' ? read(h.address) : undefined
      if (fixed) {
        const subnet = prefixAround(fixed.own, fixed.length)
        if (fixed.length <= 30 && [subnet.network, lastOf(subnet)].includes(fixed.own.value))
          yield {
            key: `address:${u.id}`,
            subjects: [u.id],
            text:
              `Our address ${h.address} on ${u.name} is the ` +
              `${fixed.own.value === subnet.network ? 'network' : 'broadcast'} address of its subnet.`,
            why: 'No host may have it (RFC 1122 3.2.1.3); the letter was misread.',
            fixes: forget({ address: null }, 'our address'),
          }
        if (h.gateway && !containsAddress(subnet, address(h.gateway)))
          yield {
            key: `gateway:${u.id}`,
            subjects: [u.id],
            text: `The gateway ${h.gateway} of ${u.name} lies outside ${h.address}.`,
            why: 'A next hop has to be on the same subnet; one of the two was misread.',
            fixes: forget({ gateway: null }, 'their gateway'),
          }
        else if (h.gateway && address(h.gateway).value === fixed.own.value)
          yield {
            key: `gateway:${u.id}`,
            subjects: [u.id],
            text: `On ${u.name} our address and their gateway are both ${h.gateway}.`,
            why: 'One of the two was misread.',
            fixes: forget({ gateway: null }, 'their gateway'),
          }
        const entry = classify(fixed.own)
        // What a line hands over is one of these; of test ranges nothing can be said.
        const kind = ({ public: 'public', shared: 'carrier-grade', private: 'private' } as const)[
          entry.kind as string
        ]
        if (kind && h.addressKind !== null && h.addressKind !== kind)
          yield {
            key: `kind:${u.id}`,
            severity: 'caution',
            subjects: [u.id],
            text:
              `${u.name} is noted as ${words[h.addressKind]}, and ${h.address} is ${entry.name} ` +
              `(${entry.source}).`,
            why: 'What can be reached from outside, forwards and tunnels are planned by it.',
            fixes: [
              {
                label: `Note it as ${words[kind]}`,
                edits: [
                  editCall('recordHandOff', { uplinkId: u.id, facts: { addressKind: kind } }),
                ],
              },
            ],
          }
      }
    }
    const bySocket = new Map<string, string[]>()
    for (const u of model.lines)
      if (u.portId) bySocket.set(u.portId, [...(bySocket.get(u.portId) ?? []), u.id])
    for (const [portId, [first, ...others]] of bySocket)
      for (const id of others) {
        const name = (l: string): string => model.lines.find((u) => u.id === l)!.name
        yield {
          key: `socket:${portId}:${id}`,
          subjects: [id, first!, portId],
          text: `${name(first!)} and ${name(id)} are both in ${model.portName(portId)}.`,
          why: 'A socket takes one plug.',
          fixes: [
            {
              label: `Take ${name(id)} out of it`,
              edits: [editCall('changeUplink', { id, changes: { portId: null } })],
            },
          ],
        }
      }
  },
})

const words = {
  public: 'public',
  'carrier-grade': 'behind carrier-grade NAT',
  private: 'private, behind their router',
} as const
