export interface System {
  readonly origin: string
  readonly url: string
  readonly parts: readonly { readonly name: string; readonly ended: Promise<unknown>; stop(): Promise<void> }[]
  stop(): Promise<void>
}
export function startSystem(how: { port: number; databaseFolder: string | null; standinsFolder: string; vaultKey: string }): Promise<System>
