/* Lets the application open without a network once it was opened with one. Data is not its
   business: that is kept in IndexedDB. */
const BUILD = '__BUILD__'
const ASSETS = __ASSETS__
const SHELL = '/enter'
const CACHE = `able-mast-${BUILD}`

self.addEventListener('install', (event) => {
  event.waitUntil(
    (async () => {
      const cache = await caches.open(CACHE)
      await cache.addAll([...ASSETS, SHELL])
      await self.skipWaiting()
    })(),
  )
})

self.addEventListener('activate', (event) => {
  event.waitUntil(
    (async () => {
      for (const name of await caches.keys())
        if (name.startsWith('able-mast-') && name !== CACHE) await caches.delete(name)
      await self.clients.claim()
    })(),
  )
})

/**
 * How long a page may take, ms, before the kept one is shown: half a bar of signal is not much
 * better than none.
 */
const PAGE_MS = 8000

/**
 * Pages: from the server where it answers, so that a new version is seen; else the page that is
 * kept, which is the same for every address.
 */
async function page(request) {
  const asked = fetch(request)
  try {
    const answer = await Promise.race([
      asked,
      new Promise((resolve) => setTimeout(resolve, PAGE_MS)),
    ])
    if (answer && answer.status < 500) return answer
  } catch {
    /* no network: the kept page is the answer */
  }
  return (await caches.match(SHELL)) ?? asked.catch(() => Response.error())
}

/** Built files have their content in their name and never change. */
async function asset(request) {
  const kept = await caches.match(request)
  if (kept) return kept
  const answer = await fetch(request)
  if (answer.ok) await (await caches.open(CACHE)).put(request, answer.clone())
  return answer
}

self.addEventListener('fetch', (event) => {
  const { request } = event
  const url = new URL(request.url)
  if (request.method !== 'GET' || url.origin !== self.location.origin) return
  if (url.pathname.startsWith('/api/') || url.pathname.startsWith('/controller/')) return
  if (request.mode === 'navigate') event.respondWith(page(request))
  else if (url.pathname.startsWith('/_nuxt/')) event.respondWith(asset(request))
})
