/**
 * C-09: gateway, mask or address typed into each other's place; a gateway outside its subnet;
 * network or broadcast address on a host.
 */
import { editCall } from '../../plan'
import { address, formatAddress, looksLikeMask, parsePrefix, usableRange } from '../../addressing'
import { unusableIn } from '../../topology'
import { firstFree } from '../../topology/freeAddress'
import { defineRule, type Fix } from '../../findings/rule'

export default defineRule({
  id: 'addressing/address-in-wrong-place',
  severity: 'blocker',
  catches: ['C-09'],
  title: 'An address cannot be what it is used as',
  sheet: 'addresses',
  reads: ['site', 'segments', 'devices', 'profiles'],
  *check(model) {
    const habit = model.plan.site.preferences.gatewayPosition
    for (const s of model.segments) {
      const subnet = s.subnet ? parsePrefix(s.subnet) : undefined
      if (!subnet) continue
      const usable = usableRange(subnet)
      const usual = formatAddress({
        family: 4,
        value: habit === 'first' ? usable.first : usable.last,
      })
      const wrong = s.gateway ? unusableIn(s.gateway, subnet) : 'is missing'
      if (wrong)
        yield {
          subjects: [s.id],
          text: `The gateway ${s.gateway ?? ''} of ${s.name} ${wrong}${s.gateway ? ` ${s.subnet}` : ''}.`.replace(
            '  ',
            ' ',
          ),
          why: 'No host of the segment would find its way out.',
          numbers: [
            {
              label: 'usable',
              value:
                `${formatAddress({ family: 4, value: usable.first })}-` +
                `${formatAddress({ family: 4, value: usable.last })}`,
              how: 'RFC 1812 4.2.3.1: without network and broadcast address',
            },
          ],
          fixes: [
            {
              label: `Set the gateway to ${usual}`,
              edits: [editCall('setGateway', { segmentId: s.id, gateway: usual })],
            },
          ],
        }
      for (const d of model.membersOf(s.id)) {
        const { mode, address: own, gateway } = d.addressing
        if (mode === 'automatic' || !own) continue
        const swapped = gateway !== null && own === s.gateway && !unusableIn(gateway, subnet)
        const bad = unusableIn(own, subnet)
        const isGateways = own === s.gateway && model.profileOf(d.id).kind !== 'gateway'
        if (bad || swapped || isGateways) {
          const free = firstFree(model.plan.devices, d.id, s)
          const fixes: Fix[] = free
            ? [
                {
                  label: `Give it ${free}`,
                  edits: [
                    editCall('changeDevice', {
                      id: d.id,
                      changes: {
                        addressing: {
                          ...d.addressing,
                          address: free,
                          gateway: mode === 'fixed' ? s.gateway : null,
                        },
                      },
                    }),
                  ],
                },
              ]
            : []
          yield {
            subjects: [d.id, s.id],
            text: swapped
              ? `${d.name} has the gateway's address ${own}; address and gateway look exchanged.`
              : bad
                ? `The address ${own} of ${d.name} ${bad} ${s.subnet}.`
                : `${d.name} has ${own}, the address of the gateway of ${s.name}.`,
            why:
              swapped || !bad
                ? 'Two devices would answer for the gateway.'
                : 'Nothing in the segment could talk to it.',
            fixes,
          }
        } else if (
          mode === 'fixed' &&
          gateway !== null &&
          gateway !== s.gateway &&
          s.gateway &&
          !wrong
        )
          yield {
            subjects: [d.id, s.id],
            text: `${d.name} sends to the gateway ${gateway}; the segment's gateway is ${s.gateway}.`,
            why: looksLikeMask(address(gateway))
              ? 'A mask was typed into the place of the gateway.'
              : 'It would reach its own segment and nothing beyond.',
            fixes: [
              {
                label: `Set its gateway to ${s.gateway}`,
                edits: [
                  editCall('changeDevice', {
                    id: d.id,
                    changes: { addressing: { ...d.addressing, gateway: s.gateway } },
                  }),
                ],
              },
            ],
          }
      }
    }
  },
})
