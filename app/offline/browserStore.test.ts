import 'fake-indexeddb/auto'
import { openDB } from 'idb'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { applyEdits, type SitePlan } from '@mast/core/plan'
import type { Change } from '@mast/core/plan'
import { baseOf, type Keep, type ServerCopy } from './workingCopy'

const first = kittiwakeHarbour()
const segmentId = Object.keys(first.segments)[0]!
const portId = Object.keys(first.ports)[0]!
const at = (revision: number, plan: SitePlan): ServerCopy => ({
  id: 's',
  role: 'engineer',
  revision,
  plan,
  revisions: [
    { number: revision, summary: `to ${revision}`, author: null, at: '2026-11-24T09:00:00Z' },
  ],
})
const hosts = (plan: SitePlan, n: number): SitePlan =>
  applyEdits(plan, [
    { name: 'changeSegment', args: { id: segmentId, changes: { expectedHosts: n } } },
  ])
/** A window of the browser, with nothing in memory yet. */
async function openWindow(): Promise<Keep & { forgetAll(): Promise<void> }> {
  vi.resetModules()
  const { browserKeep, forgetAll } = await import('./browserStore')
  return { ...browserKeep, forgetAll }
}
const raw = async (): Promise<{ steps: number; hosts: number | undefined }> => {
  const db = await openDB('able-mast')
  const whole = (await db.get('sites', 's')) as { plan: SitePlan } | undefined
  const found = {
    steps: await db.count('steps'),
    hosts: whole?.plan.segments[segmentId]!.expectedHosts,
  }
  db.close()
  return found
}

beforeEach(async () => {
  await (await openWindow()).forgetAll()
})

describe('a site in the browser', () => {
  it('is after any number of saves what the last one was, and the whole plan is written seldom', async () => {
    const window = await openWindow()
    let plan = first
    await window.putServer(at(1, plan), [], [])
    const wholes = new Set<number | undefined>()
    for (let revision = 2; revision <= 150; revision++) {
      plan =
        revision % 10 === 0
          ? applyEdits(plan, [
              {
                name: 'setUntagged',
                args: { segmentId: revision % 20 === 0 ? null : segmentId, portIds: [portId] },
              },
            ])
          : hosts(plan, revision)
      await window.putServer(at(revision, plan), [], [])
      if (revision % 25 === 0)
        expect(await (await openWindow()).load('s')).toEqual({
          server: at(revision, plan),
          base: baseOf(at(revision, plan)),
          pending: [],
          held: [],
        })
      wholes.add((await raw()).hosts)
    }
    expect(wholes.size).toBe(3)
    expect((await raw()).steps).toBeLessThan(64)
  })
  it('a window that comes later goes on from what is there', async () => {
    await (await openWindow()).putServer(at(1, first), [], [])
    const later = await openWindow()
    expect((await later.load('s'))!.server.revision).toBe(1)
    await later.putServer(at(2, hosts(first, 77)), [], [])
    expect(await raw()).toEqual({ steps: 1, hosts: first.segments[segmentId]!.expectedHosts })
    expect(
      (await (await openWindow()).load('s'))!.server.plan.segments[segmentId]!.expectedHosts,
    ).toBe(77)
  })
  it('of two windows at once the one that is ahead is kept, whole where their steps do not join', async () => {
    const [one, two] = [await openWindow(), await openWindow()]
    await one.putServer(at(1, first), [], [])
    await two.putServer(at(1, first), [], [])
    await two.putServer(at(5, hosts(first, 55)), [], [])
    await one.putServer(at(3, hosts(first, 33)), [], [])
    const kept = async (): Promise<unknown> => (await (await openWindow()).load('s'))!.server
    expect(await kept()).toEqual(at(5, hosts(first, 55)))
    await one.putServer(at(6, hosts(first, 66)), [], [])
    expect(await kept()).toEqual(at(6, hosts(first, 66)))
    expect(await raw()).toEqual({ steps: 0, hosts: 66 })
  })
  it('knows what the oldest of what is not sent was made on, whichever window brought the plan further', async () => {
    const [one, two] = [await openWindow(), await openWindow()]
    await one.putServer(at(1, first), [], [])
    const change = (id: string): Change => ({
      id,
      kind: 'edit',
      name: 'changeSite',
      args: { name: id },
    })
    await one.putChanges('s', [change('a'), change('b')], baseOf(at(1, first)))
    await two.putServer(at(5, hosts(first, 55)), [], [])
    await two.putChanges('s', [change('c')], baseOf(at(5, first)))
    const kept = async () => {
      const { server, base, pending } = (await (await openWindow()).load('s'))!
      return [server.revision, base.revision, pending.map((c) => c.id)]
    }
    expect(await kept()).toEqual([5, 1, ['a', 'b', 'c']])
    await one.putServer(at(2, hosts(first, 22)), ['a'], ['b'])
    expect(await kept()).toEqual([5, 2, ['b', 'c']])
    await one.putServer(at(6, hosts(first, 66)), ['b'], [])
    expect(await kept()).toEqual([6, 5, ['c']])
    await two.putServer(at(7, hosts(first, 77)), [], ['c'])
    expect(await kept()).toEqual([7, 7, ['c']])
  })
  it('gives way to an older plan of another history', async () => {
    const window = await openWindow()
    for (const n of [1, 2, 9]) await window.putServer(at(n, hosts(first, n)), [], [])
    await window.putServer(at(4, hosts(first, 44)), [], [], true)
    expect((await (await openWindow()).load('s'))!.server).toEqual(at(4, hosts(first, 44)))
    await window.putServer(at(5, hosts(first, 45)), [], [])
    expect((await (await openWindow()).load('s'))!.server).toEqual(at(5, hosts(first, 45)))
    // What another window had made on the lost history says so.
    await window.putChanges('s', [{ id: 'x', kind: 'edit', name: 'changeSite', args: {} }], {
      revision: 9,
      at: 'lost',
    })
    expect((await (await openWindow()).load('s'))!.base).toEqual({ revision: 9, at: 'lost' })
  })
  it('has what is not sent yet, in order, and what waits for a person', async () => {
    const window = await openWindow()
    await window.putServer(at(1, first), [], [])
    const change = (id: string): Change => ({
      id,
      kind: 'edit',
      name: 'changeSite',
      args: { name: id },
    })
    for (const id of ['b', 'a', 'c', 'd'])
      await window.putChanges('s', [change(id)], baseOf(at(1, first)))
    const conflict = { changeId: 'a', summary: 'x', things: [], by: [], reason: 'no' }
    await window.hold('s', [{ change: change('a'), conflict }])
    await window.remove(['c'])
    expect(await (await openWindow()).load('s')).toMatchObject({
      pending: [{ id: 'b' }, { id: 'd' }],
      held: [{ change: { id: 'a' }, conflict }],
    })
    await window.forgetAll()
    expect(await (await openWindow()).load('s')).toBeUndefined()
  })
})

it('a database of the first version keeps its sites and what was not sent', async () => {
  await new Promise((resolve, reject) => {
    const gone = indexedDB.deleteDatabase('able-mast')
    gone.onsuccess = resolve
    gone.onerror = reject
  })
  const old = await openDB('able-mast', 1, {
    upgrade(db) {
      db.createObjectStore('sites', { keyPath: 'id' })
      db.createObjectStore('changes', { keyPath: 'id' }).createIndex('site', 'siteId')
      db.createObjectStore('answers', { keyPath: 'path' })
      db.createObjectStore('acts', { keyPath: 'id' }).createIndex('site', 'siteId')
    },
  })
  const change: Change = { id: 'mine', kind: 'edit', name: 'changeSite', args: { name: 'x' } }
  await old.put('sites', at(4, first))
  await old.put('changes', { id: 'mine', siteId: 's', order: 1, change, conflict: null })
  old.close()
  expect(await (await openWindow()).load('s')).toEqual({
    server: { ...at(4, first), revisions: [] },
    base: { revision: 4, at: null },
    pending: [change],
    held: [],
  })
})
