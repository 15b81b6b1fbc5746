import { createHash } from 'node:crypto'

/** Inline scripts of the page are allowed by their digest, nothing else that is not served from here. */
function policyFor(html: string): string {
  const digests = [...html.matchAll(/<script(?![^>]*\bsrc=)[^>]*>([\s\S]*?)<\/script>/g)].map((m) => `'sha256-${createHash('sha256').update(m[1]!).digest('base64')}'`)
  return [
    `default-src 'self'`, `script-src 'self' ${digests.join(' ')}`.trim(), `style-src 'self' 'unsafe-inline'`, `img-src 'self' data: blob:`, `font-src 'self'`,
    `worker-src 'self' blob:`, `connect-src 'self'`, `object-src 'none'`, `base-uri 'none'`, `form-action 'self'`, `frame-ancestors 'none'`,
  ].join('; ')
}

export default defineNitroPlugin((nitro) => {
  nitro.hooks.hook('request', (event) => {
    const { res } = event.node
    res.setHeader('x-content-type-options', 'nosniff')
    res.setHeader('referrer-policy', 'same-origin')
    res.setHeader('x-frame-options', 'DENY')
    res.setHeader('cross-origin-opener-policy', 'same-origin')
    res.setHeader('permissions-policy', 'geolocation=(), camera=(), microphone=()')
  })
  nitro.hooks.hook('render:response', (response) => {
    if (typeof response.body === 'string') response.headers = { ...response.headers, 'content-security-policy': policyFor(response.body) }
  })
})
