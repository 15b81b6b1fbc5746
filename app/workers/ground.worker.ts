/** Reads the ground along a path out of a file: tiles are large, so the page does not wait for them. */
import { expose } from 'comlink'
import { readGround } from '@mast/core/bridges/terrain'

const worker = {
  read: async (
    fileName: string,
    file: Blob,
    a: Parameters<typeof readGround>[2],
    b: Parameters<typeof readGround>[3],
  ) => readGround(fileName, new Uint8Array(await file.arrayBuffer()), a, b),
}
export type GroundWorker = typeof worker
expose(worker)
