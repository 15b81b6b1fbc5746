/**
 * Calls the server's routes as somebody, and reads the status without waiting for bodies that never
 * end.
 */

export class Caller {
  private cookie = ''
  constructor(
    readonly origin: string,
    readonly name: string,
  ) {}

  get cookies(): string {
    return this.cookie
  }

  async call(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Response> {
    const response = await fetch(this.origin + path, {
      method,
      headers: {
        ...(this.cookie ? { cookie: this.cookie } : {}),
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    })
    const set = response.headers.get('set-cookie')
    if (set) this.cookie = set.split(';')[0]!
    return response
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
        cookie: this.cookie,
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
    role: string,
  ): Promise<Caller> {
    const { token } = await owner.read<{ token: string }>(
      'POST',
      `/api/sites/${siteId}/invitations`,
      { role, note: name },
    )
    const caller = new Caller(owner.origin, name)
    await caller.read('POST', `/api/invitations/${token}`, { newAccount: { name, password } })
    return caller
  }
  /** The first account of a system, made or entered. */
  static async first(origin: string, name: string, password: string): Promise<Caller> {
    const caller = new Caller(origin, name)
    const { needsSetup } = await caller.read<{ needsSetup: boolean }>('GET', '/api/session')
    await caller.read('POST', needsSetup ? '/api/setup' : '/api/session', { name, password })
    return caller
  }
}
