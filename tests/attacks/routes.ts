/** Every route of the server, from the files that are routes, with what each takes. */
import { resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import type { z } from 'zod'
import { routeFiles } from '../routeFiles'
import type { Taking } from '../../server/http/taking'

export interface Route {
  readonly method: string
  /** With `[name]` where something is filled in. */ readonly path: string
  readonly body: z.ZodType | undefined
}

export async function allRoutes(): Promise<Route[]> {
  const found: Route[] = []
  for (const { file, method, path } of [
    ...routeFiles('server/api', '/api'),
    ...routeFiles('server/routes', ''),
  ]) {
    const { default: handler } = (await import(pathToFileURL(resolve(file)).href)) as {
      default: Taking
    }
    found.push({ method, path, body: handler.bodySchema })
  }
  return found.sort((a, b) => (a.path + a.method < b.path + b.method ? -1 : 1))
}
