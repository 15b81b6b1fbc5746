/** Whether a device finds the controller as the plan says that it does, or does not. */
import { describe, expect, it } from 'vitest'
import { waysOf } from '@mast/core/adoption'
import { applyEdits, editCall, type EditCall } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { broughtUp } from '../../tests/sites/broughtUp'

const plan = dunlinSlipway()
const segment = (name: string) => Object.values(plan.segments).find((s) => s.name === name)!
const untagged = (name: string): EditCall =>
  editCall('setUntagged', { segmentId: segment(name).id, portIds: ['switch.2'] })
const byName = editCall('setController', { discovery: 'dns-name' })
const management = Object.values(plan.segments).find((s) => s.purpose === 'management')!

describe('a device finds the controller by what leases and names say', () => {
  it.each<[string, boolean, EditCall[]]>([
    ['as it was planned', true, []],
    ['by its name', true, [byName]],
    ['in the segment of visitors', false, [untagged('Visitors')]],
    ['in the segment of the crew', false, [untagged('Crew')]],
    ['in the segment of the crew, by its name', false, [untagged('Crew'), byName]],
    [
      'where nobody inside is asked for names',
      false,
      [
        byName,
        editCall('changeSegment', {
          id: management.id,
          changes: { options: { ...management.options, nameServers: ['192.0.2.53'] } },
        }),
      ],
    ],
  ])('%s', async (_, found, edits) => {
    const now = applyEdits(plan, edits)
    const { ways } = waysOf(siteModel(now), 'hut-ap')
    const leads = (kind: string): boolean => ways.some((w) => w.kind === kind && w.works)
    const { controller } = await broughtUp(now)
    expect(leads('dhcp-option') || leads('dns-name')).toBe(found)
    expect(controller.heard.has(now.devices['hut-ap']!.serial!)).toBe(found)
  })
})
