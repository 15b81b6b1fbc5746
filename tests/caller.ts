/**
 * Calls the server's routes as somebody, and reads the status without waiting for bodies that never
 * end.
 */

import { acceptInvitation, Client, invite, readSession, setUp, signIn } from '@mast/api'
import type { Role } from '@mast/core/roles'

export class Caller extends Client {
  constructor(
    origin: string,
    readonly name: string,
  ) {
    super(origin)
  }

  async status(method: string, path: string, body?: unknown): Promise<number> {
    const response = await this.call(method, path, body)
    await response.body?.cancel()
    return response.status
  }
  /** With a body that is sent as it is. */
  async raw(method: string, path: string, body?: string): Promise<number> {
    const response = await fetch(this.origin + path, {
      method,
      headers: {
        cookie: this.cookies,
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body }),
    })
    await response.body?.cancel()
    return response.status
  }
  async read<T>(method: string, path: string, body?: unknown): Promise<T> {
    const response = await this.call(method, path, body)
    const value = (await response.json()) as T
    if (!response.ok)
      throw new Error(`${this.name} ${method} ${path}: ${response.status} ${JSON.stringify(value)}`)
    return value
  }
  /** Makes an account by an invitation of an owner, and joins. */
  static async invited(
    owner: Caller,
    siteId: string,
    name: string,
    password: string,
    role: Role,
  ): Promise<Caller> {
    const { token } = await owner.ask(invite, {
      params: { site: siteId },
      body: { role, note: name },
    })
    const caller = new Caller(owner.origin, name)
    await caller.ask(acceptInvitation, {
      params: { token },
      body: { newAccount: { name, password } },
    })
    return caller
  }
  /** The first account of a system, made or entered. */
  static async first(origin: string, name: string, password: string): Promise<Caller> {
    const caller = new Caller(origin, name)
    const { needsSetup } = await caller.ask(readSession, {})
    await caller.ask(needsSetup ? setUp : signIn, { body: { name, password } })
    return caller
  }
}
