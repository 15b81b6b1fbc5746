import { createHash, randomBytes } from 'node:crypto'
import { isSecure } from '../http/secure'

const isAnswer = /^\/(api|controller)\//
const HSTS_SECONDS = 31_536_000

/**
 * Nothing is allowed that is not served from here. The page's own inline scripts go by their
 * digest; the one style sheet that the theme writes
 * at run time goes by a number made for each page, which the page finds in a meta tag.
 */
function policyFor(html: string, nonce: string): string {
  const digests = [...html.matchAll(/<script(?![^>]*\bsrc=)[^>]*>([\s\S]*?)<\/script>/g)].map(
    (m) => `'sha256-${createHash('sha256').update(m[1]!).digest('base64')}'`,
  )
  return [
    `default-src 'none'`,
    `script-src 'self' ${digests.join(' ')}`.trim(),
    `style-src 'self' 'nonce-${nonce}'`,
    `img-src 'self' data: blob:`,
    `font-src 'self'`,
    `worker-src 'self'`,
    `connect-src 'self'`,
    `manifest-src 'self'`,
    `base-uri 'none'`,
    `form-action 'self'`,
    `frame-ancestors 'none'`,
  ].join('; ')
}

export default defineNitroPlugin((nitro) => {
  nitro.hooks.hook('request', (event) => {
    const { res } = event.node
    // Of answers; a page has its own below. Not of built files: a worker takes the policy that its
    // script came with.
    if (isAnswer.test(event.path))
      res.setHeader('content-security-policy', `default-src 'none'; frame-ancestors 'none'`)
    if (isSecure(event)) res.setHeader('strict-transport-security', `max-age=${HSTS_SECONDS}`)
    res.setHeader('x-content-type-options', 'nosniff')
    res.setHeader('referrer-policy', 'same-origin')
    res.setHeader('x-frame-options', 'DENY')
    res.setHeader('cross-origin-opener-policy', 'same-origin')
    res.setHeader('cross-origin-resource-policy', 'same-origin')
    res.setHeader(
      'permissions-policy',
      'geolocation=(), camera=(self), microphone=(), usb=(), payment=()',
    )
  })
  nitro.hooks.hook('render:response', (response) => {
    if (typeof response.body !== 'string') return
    const nonce = randomBytes(16).toString('base64')
    response.body = response.body.replace(
      '<head>',
      `<head><meta name="csp-nonce" content="${nonce}">`,
    )
    const headers = { ...response.headers }
    delete headers['x-powered-by']
    response.headers = {
      ...headers,
      'content-security-policy': policyFor(response.body, nonce),
      'cache-control': 'no-cache',
    }
  })
})
