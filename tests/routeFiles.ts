/** Every route of the server by its file: the file is the only list of routes there is. */
import { readdirSync } from 'node:fs'
import { join } from 'node:path'

export interface RouteFile {
  readonly file: string
  readonly method: string
  /** With `[name]` where something is filled in. */ readonly path: string
}

export function routeFiles(folder: string, prefix: string): RouteFile[] {
  return readdirSync(folder, { recursive: true, encoding: 'utf8' }).flatMap((file) => {
    const match = /^(.*?)(?:\/index)?\.(get|post|put|delete)\.ts$/.exec(file)
    return match
      ? [
          {
            file: join(folder, file),
            method: match[2]!.toUpperCase(),
            path: `${prefix}/${match[1]}`,
          },
        ]
      : []
  })
}
