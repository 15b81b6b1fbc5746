import { createError } from 'h3'

/** A site was there when the request was looked at, and is not any more. */
export const siteIsGone = (): Error =>
  createError({ statusCode: 404, message: 'the site was removed just now' })
