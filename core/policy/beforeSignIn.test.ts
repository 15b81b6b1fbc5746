/** What guests reach before they have passed the page, in the rules of the gateway. */
import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { formatById } from '../formats'
import { trace } from '../forwarding'
import { applyEdits, editCall } from '../plan'
import { siteModel } from '../topology'
import { matrixOf } from '.'

const harbour = kittiwakeHarbour()
const guests = harbour.wirelessNetworks['visitor-wifi']!
const server = Object.values(harbour.devices).find(
  (d) => d.addressing.address !== null && d.addressing.segmentId !== guests.segmentId,
)!
const guest = Object.values(harbour.devices).find((d) => d.wirelessNetworkId === guests.id)!
const opened = applyEdits(harbour, [
  editCall('changeWirelessNetwork', {
    id: guests.id,
    changes: { portal: { ...guests.portal!, before: [`${server.addressing.address}/32`] } },
  }),
])
const asks = (plan: typeof harbour) =>
  trace(
    siteModel(plan),
    { kind: 'device', id: guest.id },
    { kind: 'device', id: server.id },
    plan.services['svc-web']!,
  )

describe('what is reached before the page', () => {
  it('is let through by the gateway, and nothing beside it', () => {
    expect([asks(harbour).verdict, asks(opened).verdict]).toEqual(['blocked', 'delivered'])
    expect(JSON.stringify(asks(opened))).toContain(`guests of '${guests.name}' reach it`)
    const rules = formatById('nftables')!.write!({
      ...{ model: siteModel(opened), serial: 1, utcOffset: 0 },
    })
    const text = Object.values(rules).join('\n')
    expect(text).toContain(`guests of '${guests.name}' reach it before they have passed its page`)
  })
  it('changes the matrix at once', () => {
    expect(matrixOf(opened)).not.toBe(matrixOf(harbour))
  })
})
