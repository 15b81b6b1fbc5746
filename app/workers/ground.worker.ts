/** Works with grids of heights: tiles are large, so the page does not wait for them. */
import { expose } from 'comlink'
import { rankOver, readGround } from '@mast/core/bridges/terrain'

const octetsOf = async (file: Blob): Promise<Uint8Array> => new Uint8Array(await file.arrayBuffer())
const worker = {
  read: async (
    fileName: string,
    file: Blob,
    a: Parameters<typeof readGround>[2],
    b: Parameters<typeof readGround>[3],
  ) => readGround(fileName, await octetsOf(file), a, b),
  rank: async (
    fileName: string,
    file: Blob,
    masts: Parameters<typeof rankOver>[2],
    mhz: number,
    mostM: number,
  ) => rankOver(fileName, await octetsOf(file), masts, mhz, mostM),
}
export type GroundWorker = typeof worker
expose(worker)
