import { expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { editCall, applyEdits, type SitePlan } from '../plan'
import { siteModel } from '../topology'
import { leaseServersOf, writeDnsmasqFiles, writeKeaFiles } from '.'

const relayed = (...ids: string[]): SitePlan =>
  applyEdits(
    quayside(),
    ids.map((id) =>
      editCall('changeSegment', { id, changes: { dhcp: { mode: 'relay', relayTo: '10.99.0.5' } } }),
    ),
  )

it("everybody serves what is theirs, and nobody what is another's", () => {
  const [gateway, other] = leaseServersOf(siteModel(relayed('cameras')))
  expect([gateway!.segments.map((s) => s.id), other!.segments.map((s) => s.id)]).toEqual([
    ['management', 'office-net', 'visitors'],
    ['cameras'],
  ])
})
it('the gateway has a file for names and relays though it hands out nothing, and none for Kea then', () => {
  const model = siteModel(relayed('management', 'office-net', 'cameras', 'visitors'))
  const files = writeDnsmasqFiles(model)
  expect(Object.keys(files)).toEqual(['dnsmasq.conf', 'dnsmasq-10-99-0-5.conf'])
  expect(files['dnsmasq.conf']!.match(/^dhcp-relay=.*,10\.99\.0\.5$/gm)).toHaveLength(4)
  expect(files['dnsmasq.conf']).not.toContain('dhcp-range')
  expect(Object.keys(writeKeaFiles(model))).toEqual(['kea-dhcp4-10-99-0-5.conf'])
})
