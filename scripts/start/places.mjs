// Where things are kept. The database of root belongs to another account and must lie where that
// account may go.
import { createHash } from 'node:crypto'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const project = dirname(dirname(dirname(fileURLToPath(import.meta.url))))
/** MAST_STATE keeps several systems of one working copy apart, as the tests do. */
export const stateFolder = process.env.MAST_STATE ?? join(project, '.mast')

/** One database folder for each working copy. */
export const databaseFolder = () =>
  process.getuid() === 0
    ? join(
        '/var/lib/able-mast',
        createHash('sha256').update(stateFolder).digest('hex').slice(0, 12),
      )
    : join(stateFolder, 'database')
