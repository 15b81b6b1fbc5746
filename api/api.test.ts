import { resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { expect, it } from 'vitest'
import { routeFiles } from '../tests/routeFiles'
import * as api from '.'

const endpoints = Object.entries(api as Readonly<Record<string, unknown>>).flatMap(
  ([name, e]): [string, api.Endpoint][] =>
    typeof e === 'object' && e !== null && 'access' in e ? [[name, e as api.Endpoint]] : [],
)

it('is answered: every endpoint by the route that lies where its path says, and no other', async () => {
  process.env.MAST_VAULT_KEY = Buffer.alloc(32).toString('base64')
  const routes = await Promise.all(
    routeFiles('server/api', '/api').map(async ({ file, method, path }) => {
      const { default: route } = (await import(pathToFileURL(resolve(file)).href)) as {
        default: { endpoint?: api.Endpoint }
      }
      return [`${method} ${path.replace(/\[(\w+)\]/g, ':$1')}`, route.endpoint] as const
    }),
  )
  for (const [where, e] of routes) expect(e && `${e.method} ${e.path}`, where).toBe(where)
  const asked = endpoints.map(([, e]) => `${e.method} ${e.path}`)
  expect(routes.map(([where]) => where).sort()).toEqual(asked.sort())
})
it('has no two for one question, and none for members without a site', () => {
  const asked = endpoints.map(([, e]) => `${e.method} ${e.path}`)
  expect(new Set(asked).size).toBe(asked.length)
  for (const [name, e] of endpoints)
    expect(e.path.includes('/:site'), name).toBe(!['anybody', 'account'].includes(e.access))
})
it('fills a path in, whatever stands in an id', () => {
  expect(api.pathOf(api.tickStep, asked({ step: 'gate.page/admin password' }))).toBe(
    '/api/sites/quay/steps/gate.page%2Fadmin%20password',
  )
  expect(
    api.pathOf(api.readSite, { params: { site: 'quay' }, query: { since: 4, at: undefined } }),
  ).toBe('/api/sites/quay?since=4')
  expect(api.pathOf(api.readSites, {})).toBe('/api/sites')
})
const asked = (params: { step: string }): api.Asked<typeof api.tickStep> => ({
  params: { site: 'quay', ...params },
  body: { by: 'person', acknowledged: true },
})
it('reads what an earlier version kept, and takes no proof that it does not know', () => {
  const kept = api.readRoll.reply.parse({
    devices: [
      {
        deviceId: 'gateway',
        state: 'in-service',
        claimed: true,
        claimedElsewhere: false,
        plannedElsewhere: false,
        model: null,
        firmware: null,
        factoryPassword: null,
        configurationMatches: null,
        address: null,
        lastHeardAt: null,
        changedAt: '2026-11-24T09:00:00.000Z',
        desiredMissing: [],
        ports: [],
      },
    ],
    foreign: [],
    events: [],
  })
  expect(kept.devices[0]).toMatchObject({ callers: [], release: null, isUnsent: false })
  const proof = { id: 'p', at: '2026-11-24T09:00:00.000Z', revision: 1, body: { results: [{}] } }
  expect(api.readProof.reply.parse({ proof })).toEqual({ proof: null })
})
