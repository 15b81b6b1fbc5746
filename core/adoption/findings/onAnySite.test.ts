/** Of sites that nobody made for it: what is said of controllers, clocks and watchdogs, and its buttons. */
import { expect, it } from 'vitest'
import { findingsOf } from '../../findings'
import { chanceOf, randomSite, smallShape, type Chance } from '../../generator'
import { editCall, runEdits, type EditCall, type SitePlan } from '../../plan'
import { siteModel } from '../../topology'
import { withoutController } from '../school/without'
import { waysOf } from '../ways/ways'

const OWN = new Set([
  'adoption/no-time',
  'adoption/no-sign-in',
  'adoption/not-on-when-needed',
  'adoption/unknown-name',
  'adoption/watchdog-target',
  'adoption/no-controller',
  'survey/firmware-too-old',
])

function changed(plan: SitePlan, chance: Chance): SitePlan {
  const devices = Object.values(plan.devices)
  const segments = Object.values(plan.segments)
  const gear = devices.filter((d) => plan.profiles[d.profileId]!.adoptable)
  const gateway = gear.find((d) => plan.profiles[d.profileId]!.kind === 'gateway')
  const addresses = [
    ...segments.flatMap((s) => s.gateway ?? []),
    ...devices.flatMap((d) => d.addressing.address ?? []),
    ...['10.99.9.9', '192.168.1.1', '198.51.100.7', '172.16.0.1'],
  ]
  const pick = (): EditCall => {
    switch (chance.between(0, 5)) {
      case 0:
        return editCall('changeDevice', {
          id: chance.one(gear).id,
          changes: {
            watchdog: { address: chance.one(addresses), everySeconds: 60, failures: 3 },
          },
        })
      case 1:
        return editCall('setController', {
          hosted: { name: 'fleet.example.net' },
          discovery: chance.one(['dhcp-option', 'dns-name'] as const),
        })
      case 2:
        return editCall('setController', {
          hostDeviceId: (chance.between(0, 1) ? gateway : chance.one(devices))?.id ?? null,
        })
      case 3:
        return editCall('setController', {
          runs: chance.one(['always', 'when-needed'] as const),
          bootstrap: chance.one([null, { port: 8543, passTo: null }]),
          accounts: chance.one(['local', 'hosted'] as const),
        })
      case 4: {
        const s = chance.one(segments)
        return editCall('changeSegment', {
          id: s.id,
          changes: { options: { ...s.options, timeServers: [chance.one(addresses)] } },
        })
      }
      default:
        return editCall('changeSite', { wireless: { channels: 'nightly' } })
    }
  }
  let now = plan
  for (let n = 0; n < 5; n++) {
    const outcome = runEdits(now, '', [pick()])
    if (outcome.ok) now = outcome.plan
  }
  return now
}

it('buttons mend what they are about, and nothing is thrown, whatever the site', () => {
  const wrong: string[] = []
  const pressed = new Set<string>()
  for (let seed = 1; seed <= 60; seed++) {
    const chance = chanceOf(seed)
    const plan = changed(randomSite(chanceOf(seed), smallShape(chanceOf(seed), seed % 3)), chance)
    const model = siteModel(plan)
    for (const d of model.devices)
      if (model.profileOf(d.id).adoptable) expect(waysOf(model, d.id).ways).toHaveLength(6)
    expect(withoutController(model).stops.length > 0).toBe(model.hasController)
    for (const f of findingsOf(plan).filter((x) => OWN.has(x.ruleId)))
      for (const fix of f.fixes ?? []) {
        pressed.add(f.ruleId)
        const outcome = runEdits(plan, fix.label, fix.edits)
        if (!outcome.ok)
          wrong.push(`${seed}: ${f.text} => ${fix.label}: ${outcome.problems[0]!.reason}`)
        else if (findingsOf(outcome.plan).some((x) => x.id === f.id))
          wrong.push(`${seed}: ${f.text} => ${fix.label}: it is still there`)
      }
  }
  expect(wrong).toEqual([])
  expect(pressed.size).toBeGreaterThan(3)
})
