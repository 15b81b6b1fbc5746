/** Several server processes on one database behave as one. */
import { randomUUID } from 'node:crypto'
import { digestOf, runChange, type SitePlan } from '@mast/core/plan'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { Caller } from '../caller'
import { expect, NAME, PASSWORD, test } from './system'

test.use({ file: 'processes', processes: 3 })

test('what one saves the others tell; sessions and tries count everywhere', async ({ system }) => {
  const [a, b, c] = system.origins as [string, string, string]
  const onA = await Caller.first(a, NAME, PASSWORD)
  await onA.read('POST', '/api/sites', { name: 'Dunlin Slipway', plan: dunlinSlipway() })
  const onB = await Caller.first(b, NAME, PASSWORD)
  const events = await onB.call('GET', '/api/sites/dunlin-slipway/events')
  const reader = events.body!.pipeThrough(new TextDecoderStream()).getReader()
  const edit = { id: randomUUID(), kind: 'edit', name: 'changeSite', args: { name: 'Dunlin Slip' } }
  await onA.read('POST', '/api/sites/dunlin-slipway/edits', { base: 1, changes: [edit] })
  let heard = ''
  while (!heard.includes('event: plan')) heard += (await reader.read()).value
  expect(heard).toContain('data: {"revision":2}')
  expect(
    (await onB.read<{ plan: { site: { name: string } } }>('GET', '/api/sites/dunlin-slipway')).plan
      .site.name,
  ).toBe('Dunlin Slip')
  // The same save at another process is the same save.
  expect(
    await onB.read('POST', '/api/sites/dunlin-slipway/edits', { base: 1, changes: [edit] }),
  ).toMatchObject({ revision: 2 })

  const stranger = system.origins.map((origin) => new Caller(origin, 'stranger'))
  const tries: number[] = []
  for (let i = 0; i < 12; i++)
    tries.push(
      await stranger[i % 3]!.status('POST', '/api/session', {
        name: 'somebody',
        password: 'guess',
      }),
    )
  expect(tries).toEqual([...Array.from({ length: 10 }, () => 401), 429, 429])

  await onB.read('DELETE', '/api/account/sessions')
  expect(await onA.status('GET', '/api/sites')).toBe(401)
  const onC = await Caller.first(c, NAME, PASSWORD)
  expect(await onC.read<unknown[]>('GET', '/api/sites')).toHaveLength(1)
  await reader.cancel()
})

test('saves at all processes at once get one number each, and every one of them is there', async ({
  system,
}) => {
  const callers: Caller[] = []
  for (const origin of system.origins) callers.push(await Caller.first(origin, NAME, PASSWORD))
  const { id } = await callers[0]!.read<{ id: string }>('POST', '/api/sites', {
    name: 'All At Once',
  })
  const place = (n: number): object => ({
    id: randomUUID(),
    kind: 'edit',
    name: 'addLocation',
    args: { id: `place-${n}`, name: `Place ${n}`, kind: 'building', mains: true },
  })
  /** Who is told to come again does, with the very same change. */
  const save = async (n: number): Promise<{ made: { number: number }[] }> => {
    const body = { base: 1, changes: [place(n)] }
    for (const end = Date.now() + 60_000; ;) {
      const response = await callers[n % 3]!.call('POST', `/api/sites/${id}/edits`, body)
      if (response.ok || response.status !== 503 || Date.now() > end) {
        expect(response.status).toBe(200)
        return (await response.json()) as { made: { number: number }[] }
      }
      await response.body?.cancel()
    }
  }
  const replies = await Promise.all(Array.from({ length: 30 }, (_, n) => save(n)))
  expect(replies.map((r) => r.made[0]!.number).sort((x, y) => x - y)).toEqual(
    Array.from({ length: 30 }, (_, n) => n + 2),
  )
  const { plan } = await callers[1]!.read<{ plan: { locations: object } }>(
    'GET',
    `/api/sites/${id}`,
  )
  expect(Object.keys(plan.locations)).toHaveLength(30)
})

test('every revision is read by a process that did not make it as it was when it was made', async ({
  system,
}) => {
  const [onA, onB] = [
    await Caller.first(system.origins[0]!, NAME, PASSWORD),
    await Caller.first(system.origins[1]!, NAME, PASSWORD),
  ]
  const { id } = await onA.read<{ id: string }>('POST', '/api/sites', {
    name: 'Read Back',
    plan: dunlinSlipway(),
  })
  const plans: SitePlan[] = [
    { ...dunlinSlipway(), site: { ...dunlinSlipway().site, name: 'Read Back' } },
  ]
  const changes = Array.from({ length: 70 }, (_, n) => ({
    id: randomUUID(),
    kind: 'edit' as const,
    name: n % 3 === 2 ? 'removeLocation' : 'addLocation',
    args:
      n % 3 === 2
        ? { id: `place-${n - 1}` }
        : { id: `place-${n}`, name: `Place ${n}`, kind: 'building', mains: true },
  }))
  for (const change of changes) {
    const outcome = runChange(plans.at(-1)!, change)
    if (!outcome.ok) throw new Error(outcome.problems[0]!.reason)
    plans.push(outcome.plan)
  }
  await onA.read('POST', `/api/sites/${id}/edits`, { base: 1, changes: changes.slice(0, 50) })
  await onA.read('POST', `/api/sites/${id}/edits`, { base: 51, changes: changes.slice(50) })
  for (const [i, plan] of plans.entries())
    expect(
      digestOf(
        (await onB.read<{ plan: SitePlan }>('GET', `/api/sites/${id}/revisions/${i + 1}`)).plan,
      ),
      `revision ${i + 1}`,
    ).toBe(digestOf(plan))
})

test('the stand-ins never go back to an older plan, whichever process shows it to them', async ({
  system,
}) => {
  const [onA, onB] = [
    await Caller.first(system.origins[0]!, NAME, PASSWORD),
    await Caller.first(system.origins[1]!, NAME, PASSWORD),
  ]
  const { id } = await onA.read<{ id: string }>('POST', '/api/sites', {
    name: 'Shown',
    plan: dunlinSlipway(),
  })
  const show = (who: Caller): Promise<unknown> =>
    who.read('POST', `/api/sites/${id}/standins/clock`, { speed: 60 })
  await show(onA)
  await onB.read('POST', `/api/sites/${id}/edits`, {
    base: 1,
    changes: [{ id: randomUUID(), kind: 'edit', name: 'removeDevice', args: { id: 'switch' } }],
  })
  await show(onB)
  await Promise.all([show(onA), show(onB), show(onA)])
  const { standins } = await onA.read<{
    standins: { devices: { id: string }[]; revision: number }
  }>('GET', `/api/sites/${id}/standins`)
  expect(standins.devices.map((d) => d.id)).not.toContain('switch')
  expect(standins.revision).toBe(2)
})
