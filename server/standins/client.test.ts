import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { probesSchema } from '@mast/standins/control'
import { probe } from './client'

let server: Server
const portions: number[] = []
beforeAll(async () => {
  // What the stand-ins do of it: refuse what is more than they take, and answer each.
  server = createServer((request, response) => {
    const chunks: Buffer[] = []
    request.on('data', (c: Buffer) => chunks.push(c))
    request.on('end', () => {
      const given = probesSchema.safeParse(JSON.parse(Buffer.concat(chunks).toString()))
      response.writeHead(given.success ? 200 : 400, { 'content-type': 'application/json' })
      if (given.success) portions.push(given.data.probes.length)
      response.end(
        JSON.stringify(
          given.success
            ? {
                observations: given.data.probes.map((p) => ({
                  id: p.id,
                  outcome: 'works',
                  address: null,
                  detail: '',
                  atSeconds: 1,
                })),
              }
            : { message: 'too many' },
        ),
      )
    })
  })
  await new Promise<void>((r) => server.listen(0, '127.0.0.1', r))
  process.env.MAST_STANDINS_PORT = String((server.address() as AddressInfo).port)
})
afterAll(() => {
  server.close()
})

it(
  'a proof of more tests than the stand-ins take at once comes in portions, each test answered ' +
    'once and in order',
  async () => {
    const ids = Array.from({ length: 12_001 }, (_, n) => `t-${n}`)
    const observations = await probe(
      'quay',
      ids.map((id) => ({ id, from: 'desk', kind: 'lease', target: null, port: null })),
      Date.now() + 60_000,
    )
    expect(observations.map((o) => o.id)).toEqual(ids)
    expect(portions).toEqual([5000, 5000, 2001])
  },
)
it('nothing to ask is nothing asked', async () => {
  portions.length = 0
  expect(await probe('quay', [], Date.now() + 60_000)).toEqual([])
  expect(portions).toEqual([])
})
