/** Asks the routes from a program: a cookie is kept, and every answer is checked. */
import { pathOf, type Asked, type Endpoint, type Reply } from './endpoint'
import { refusal } from './refusal'

export class Client {
  private cookie = ''
  constructor(readonly origin: string) {}

  get cookies(): string {
    return this.cookie
  }

  /** Whatever comes back, read by nobody yet. */
  async call(
    method: string,
    path: string,
    body?: unknown,
    headers: Readonly<Record<string, string>> = {},
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

  /** @throws Error with what the server said where it refused. */
  async ask<E extends Endpoint>(e: E, asked: Asked<E>): Promise<Reply<E>> {
    const path = pathOf(e, asked)
    const response = await this.call(e.method, path, asked.body)
    const value: unknown = await response.json().catch(() => null)
    if (response.ok) return (e.reply ? e.reply.parse(value) : value) as Reply<E>
    const said = refusal.safeParse(value).data
    throw new Error(
      `${e.method} ${path}: ${response.status} ${said?.message ?? ''} ` +
        (said?.data ? JSON.stringify(said.data) : ''),
    )
  }
}
