/** Who is told the time by whom: as the plan foretells, so the devices say. */
import { expect, it } from 'vitest'
import { timeServersOf } from '@mast/core/adoption'
import { findingsOf } from '@mast/core/findings'
import { applyEdits, editCall as edit, type EditCall } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { exercises } from '../../demo/exercises'
import { broughtUp, mended } from '../../tests/sites/broughtUp'

const { begin, decisions } = exercises.find((e) => e.job === 'J-14')!
const plan = mended(applyEdits(begin(), [...decisions]))
const { options, gateway } = siteModel(plan).segment('management')
const asking = (timeServers: string[]): EditCall =>
  edit('changeSegment', { id: 'management', changes: { options: { ...options, timeServers } } })
const shut = edit('stateFirst', {
  id: 'shut',
  from: 'management',
  to: 'internet',
  service: 'any',
  action: 'deny',
  reason: 'devices are not to call out',
})

it.each<[string, string | null, EditCall[]]>([
  ['a server on the internet', 'internet', []],
  ['nobody, where devices do not get out', null, [shut]],
  ['the gateway, where they are told so', 'gateway', [shut, asking([gateway!])]],
  ['nobody, where a host is named that is not there', null, [asking(['10.74.99.99'])]],
  ['the second, where the first is not there', 'gateway', [asking(['10.74.99.99', gateway!])]],
])('devices in management are told the time by %s', async (_, by, edits) => {
  const now = applyEdits(plan, edits)
  const model = siteModel(now)
  const answers = timeServersOf(model, model.device('switch')).find((s) => s.whyNot === null)
  expect(answers === undefined ? null : (answers.address ?? 'internet')).toBe(
    by === 'gateway' ? gateway : by,
  )
  expect(findingsOf(now).some((f) => f.ruleId === 'adoption/no-time')).toBe(by === null)
  const { controller } = await broughtUp(now)
  const { clock } = controller.reports.get(now.devices['switch']!.serial!)!
  expect(clock).toEqual({
    zone: now.site.timeZone,
    from: by === 'gateway' ? gateway : by && expect.stringMatching(/^198\.51\.100\./),
  })
})
