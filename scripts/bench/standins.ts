/**
 * Frames that the stand-ins move in a second on one core, beside an event loop over the same queue
 * that does nothing.
 */
import { desiredConfiguration } from '@mast/core/adoption'
import { chanceOf, randomSite, type Shape } from '@mast/core/generator'
import { siteModel } from '@mast/core/topology'
import { EventQueue } from '../../standins/clock/eventQueue'
import { Appliance } from '../../standins/devices/appliance'
import { HostBox } from '../../standins/devices/hostBox'
import { World } from '../../standins/world/world'
import { row, type Row } from './measure'

const SHAPE: Shape = {
  switches: 8,
  accessPoints: 0,
  segments: 6,
  hostsPerSegment: 5,
  intents: 10,
  mistakes: 0,
  switchProfile: 'switch-8-poe-65',
}
const SECONDS = 4

export async function standins(): Promise<Row[]> {
  const plan = randomSite(chanceOf(4), SHAPE)
  plan.site.preferences.betweenSegments = 'allow'
  const model = siteModel(plan)
  const world = new World(
    { plan, keys: {}, linePasswords: {}, seed: 1, revision: 1, release: 0, keysVersion: 0 },
    async () => null,
  )
  for (const [id, box] of world.boxes)
    if (box instanceof Appliance) {
      const outcome = desiredConfiguration(model, id, {})
      if (outcome.ok)
        Object.assign(box.flash, {
          configuration: outcome.desired.configuration,
          digest: outcome.desired.digest,
        })
    }
  const kind = (id: string): string => plan.profiles[plan.devices[id]!.profileId]!.kind
  await world.hand({
    kind: 'plug',
    deviceIds: Object.keys(plan.devices).filter((d) => kind(d) !== 'host'),
  })
  pass(world.queue, 900)
  await world.hand({
    kind: 'power',
    deviceIds: Object.keys(plan.devices).filter((d) => kind(d) === 'host'),
    on: true,
  })
  pass(world.queue, 900)
  const hosts = [...world.boxes.values()].filter(
    (b): b is HostBox => b instanceof HostBox && b.host.address !== null,
  )
  // Every host pings every other for ever.
  const keepPinging = (from: HostBox, n: number): void => {
    from.host.endpoint.ping(
      hosts[n % hosts.length]!.host.address!,
      () => keepPinging(from, n + 1),
      1,
    )
  }
  for (const [i, h] of hosts.entries()) for (let k = 1; k <= 4; k++) keepPinging(h, i + k)
  const frames = (): number => world.snapshot().frames
  const before = frames()
  let events = 0
  const start = performance.now()
  while (performance.now() - start < SECONDS * 1000)
    for (let i = 0; i < 2000; i++) if (world.queue.step(Infinity)) events++
  const perSecond = (frames() - before) / ((performance.now() - start) / 1000)

  // As many timers waiting as the world has, each asking for the next: the queue alone.
  const empty = new EventQueue()
  const next = (): void => {
    empty.after(0.001, next)
  }
  for (let i = 0; i < world.queue.size; i++) empty.after(i / 1e6, next)
  let done = 0
  const from = performance.now()
  while (performance.now() - from < SECONDS * 1000)
    for (let i = 0; i < 2000; i++) if (empty.step(Infinity)) done++
  const emptyPerSecond = done / ((performance.now() - from) / 1000)
  if (events === 0) throw new Error('nothing happened')
  return [
    row({
      name: 'stand-in frames',
      value: perSecond,
      unit: '/s',
      reference: 'empty events over the same queue, /s',
      referenceValue: emptyPerSecond,
      aim: 'at least a quarter',
      met: (r) => r >= 0.25,
    }),
  ]
}

function pass(queue: EventQueue, seconds: number): void {
  const end = queue.now + seconds
  while (queue.step(end)) {
    /* until then */
  }
  queue.now = end
}
