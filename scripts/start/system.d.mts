export interface Part {
  readonly name: string
  readonly pid: number
  readonly ended: Promise<unknown>
  stop(): Promise<unknown>
}
export interface System {
  /** Of the first server process. */
  readonly origin: string
  readonly origins: readonly string[]
  /** Where devices from their box are served, over TLS. */
  readonly bootstrapOrigin: string
  readonly url: string
  readonly parts: readonly Part[]
  stop(): Promise<void>
}
export function startSystem(how: {
  ports: readonly number[]
  databaseFolder: string | null
  standinsFolder: string
  vaultKey: string
  otherControllers?: string
}): Promise<System>
