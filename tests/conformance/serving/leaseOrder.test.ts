/**
 * Which address the next device gets, held against a server that Debian has, run with what is
 * exported: first, after it was started again, and with a reservation in the middle of the pool.
 * Programs: kea-dhcp4, udhcpc.
 */
import { expect, it, onTestFinished } from 'vitest'
import { nextLeases } from '@mast/core/bringup'
import { writeKeaFiles } from '@mast/core/formats'
import { applyEdits, editCall as edit } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { quayside } from '../../sites/quayside'
import { Place } from './place'
import { kea } from './programs'

const SEGMENT = 'office-net'
const phone = Object.values(quayside().profiles).find((p) => p.kind === 'host')!.id
const camera = (n: number, addressing: { mode: 'automatic' | 'reserved'; address?: string }) =>
  edit('addDevice', {
    ...{ id: `new-${n}`, name: `New ${n}`, profileId: phone },
    hardwareAddress: `02:4b:48:00:01:0${n}`,
    addressing: { segmentId: SEGMENT, address: null, gateway: null, ...addressing },
  })
const plan = applyEdits(quayside(), [
  edit('setPool', { segmentId: SEGMENT, first: '10.20.20.100', last: '10.20.20.200' }),
  ...[1, 2, 4, 5].map((n) => camera(n, { mode: 'automatic' })),
  camera(3, { mode: 'reserved', address: '10.20.20.101' }),
])
const model = siteModel(plan)

it('is as guessed, by a server that asks for the lowest, first and after it was started again', async () => {
  const p = new Place(plan)
  onTestFinished(() => p.end())
  const text = writeKeaFiles(model)['kea-dhcp4.conf']!
  let server = await kea(p, p.gateway, text, 'order')
  const held = new Map<string, string>()
  const apart: string[] = []
  const comes = async (n: number): Promise<void> => {
    const device = model.device(`new-${n}`)
    const [guess] = nextLeases(model, [device], { held })
    const mac = device.hardwareAddress!
    const { ip } = await p.client(p.host(SEGMENT, mac)).next('bound')
    if (ip !== guess!.address) apart.push(`${device.name}: ${ip}, guessed ${guess!.address}`)
    held.set(mac, ip!)
  }
  for (const n of [2, 3, 1]) await comes(n)
  await server.stop()
  server = await kea(p, p.gateway, text, 'order')
  for (const n of [5, 4]) await comes(n)
  // Whoever had one gets it again.
  await comes(2)
  expect(apart).toEqual([])
  expect([...held.values()].sort()).toEqual([
    '10.20.20.100',
    '10.20.20.101',
    '10.20.20.102',
    '10.20.20.103',
    '10.20.20.104',
  ])
  await server.stop()
}, 240_000)
