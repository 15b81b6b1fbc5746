import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { beforeEach, describe, expect, it, vi } from 'vitest'

const ORIGIN = 'http://mast.example'
const source = readFileSync(join(import.meta.dirname, 'serviceWorker.js'), 'utf8')
  .replace('__BUILD__', 'two')
  .replace('__ASSETS__', JSON.stringify(['/_nuxt/app.js']))

/** The worker in a browser of its own: its caches, a server that does as it is told. */
function worker(server: (path: string) => Promise<Response>) {
  const stores = new Map<string, Map<string, string>>([
    ['able-mast-one', new Map([['/enter', 'old page']])],
    ['not-ours', new Map()],
  ])
  const pathOf = (r: unknown): string =>
    typeof r === 'string' ? r : new URL((r as { url: string }).url).pathname
  const asked: string[] = []
  const ask = (r: unknown): Promise<Response> => {
    asked.push(pathOf(r))
    return server(pathOf(r))
  }
  const caches = {
    open: async (name: string) => {
      const store = stores.get(name) ?? stores.set(name, new Map()).get(name)!
      return {
        addAll: async (paths: string[]) => {
          for (const p of paths) store.set(p, await (await ask(p)).text())
        },
        put: async (r: unknown, answer: Response) => {
          store.set(pathOf(r), await answer.text())
        },
      }
    },
    keys: async () => [...stores.keys()],
    delete: async (name: string) => stores.delete(name),
    match: async (r: unknown) => {
      for (const store of stores.values()) {
        const text = store.get(pathOf(r))
        if (text !== undefined) return new Response(text)
      }
      return undefined
    },
  }
  const listeners = new Map<string, (event: object) => void>()
  const self = {
    addEventListener: (name: string, f: (event: object) => void) => listeners.set(name, f),
    skipWaiting: async () => {},
    clients: { claim: async () => {} },
    location: { origin: ORIGIN },
  }
  // The file is a script, not a module: it finds its surroundings by their names.
  new Function('self', 'caches', 'fetch', source)(self, caches, ask)
  const happen = async (name: string): Promise<void> => {
    const waits: Promise<unknown>[] = []
    listeners.get(name)!({ waitUntil: (p: Promise<unknown>) => waits.push(p) })
    await Promise.all(waits)
  }
  /** What the worker answers, or undefined where it leaves the request to the browser. */
  const get = (path: string, mode = 'cors', method = 'GET'): Promise<Response> | undefined => {
    let answer: Promise<Response> | undefined
    listeners.get('fetch')!({
      request: { url: ORIGIN + path, mode, method },
      respondWith: (p: Promise<Response>) => {
        answer = p
      },
    })
    return answer
  }
  return { stores, asked, happen, get }
}
const text = async (answer: Promise<Response> | undefined): Promise<string> =>
  (await answer!).text()
const installed = async (server: (path: string) => Promise<Response>) => {
  let isUp = true
  const w = worker((path) =>
    isUp ? Promise.resolve(new Response(`${path} of the server`)) : server(path),
  )
  await w.happen('install')
  await w.happen('activate')
  isUp = false
  return w
}

beforeEach(() => {
  vi.useRealTimers()
})

describe('the service worker', () => {
  it('keeps what was built and one page, and throws away those of the build before', async () => {
    const w = await installed(() => Promise.reject(new Error()))
    expect([...w.stores].map(([name, store]) => [name, [...store.keys()]])).toEqual([
      ['not-ours', []],
      ['able-mast-two', ['/_nuxt/app.js', '/enter']],
    ])
  })
  it('gives pages of the server, and the kept one for any address where it has none to give', async () => {
    expect(
      await text(
        (await installed(async () => new Response('fresh'))).get('/s/harbour/survey', 'navigate'),
      ),
    ).toBe('fresh')
    expect(
      await text(
        (await installed(async () => new Response('no such page', { status: 404 }))).get(
          '/nowhere',
          'navigate',
        ),
      ),
    ).toBe('no such page')
    expect(
      await text(
        (await installed(async () => new Response('', { status: 503 }))).get(
          '/s/harbour/survey',
          'navigate',
        ),
      ),
    ).toBe('/enter of the server')
    expect(
      await text(
        (await installed(() => Promise.reject(new Error('no network')))).get('/', 'navigate'),
      ),
    ).toBe('/enter of the server')
  })
  it('gives the kept page where the network is there but brings nothing', async () => {
    const w = await installed(() => new Promise(() => {}))
    vi.useFakeTimers()
    const answer = text(w.get('/s/harbour/bring-up', 'navigate'))
    await vi.advanceTimersByTimeAsync(20_000)
    expect(await answer).toBe('/enter of the server')
  })
  it('waits where it has no page to give instead', async () => {
    let come: (answer: Response) => void = () => {}
    const w = worker(
      () =>
        new Promise((resolve) => {
          come = resolve
        }),
    )
    w.stores.clear()
    vi.useFakeTimers()
    const answer = text(w.get('/', 'navigate'))
    await vi.advanceTimersByTimeAsync(20_000)
    come(new Response('late'))
    expect(await answer).toBe('late')
  })
  it('gives built files without asking, and keeps those that it did not have', async () => {
    const w = await installed(async (path) => new Response(`${path} new`))
    const before = w.asked.length
    expect(await text(w.get('/_nuxt/app.js'))).toBe('/_nuxt/app.js of the server')
    expect(w.asked.length).toBe(before)
    expect(await text(w.get('/_nuxt/other.js'))).toBe('/_nuxt/other.js new')
    await vi.waitUntil(() => w.stores.get('able-mast-two')!.has('/_nuxt/other.js'))
  })
  it('leaves data and everything that changes something alone', async () => {
    const w = await installed(() => Promise.reject(new Error()))
    expect([
      w.get('/api/sites'),
      w.get('/controller/v1/ready'),
      w.get('/_nuxt/app.js', 'cors', 'POST'),
      w.get('/robots.txt'),
    ]).toEqual([undefined, undefined, undefined, undefined])
  })
})
