import type { Part } from './system.mjs'

/** Starts the cluster in a folder, made where there is none. */
export function startPostgres(folder: string): Promise<{ url: string; kept: Part }>
