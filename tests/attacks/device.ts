/** A device as an attacker or an honest one would be it: says what it is told to say. */
import { createHash, randomBytes } from 'node:crypto'
import { serialOf } from '../load/system'

export class Device {
  readonly secret = randomBytes(32).toString('hex')
  token = ''
  sequence = 0
  constructor(
    readonly origin: string,
    readonly serial: string,
    readonly address = '10.9.0.7',
  ) {}

  static numbered(origin: string, n: number, address?: string): Device {
    return new Device(origin, serialOf(n), address)
  }

  get greeting(): object {
    return {
      serial: this.serial,
      hardwareAddress: '02:0a:00:00:00:01',
      model: 'ap-indoor-2x2',
      firmware: '5.2.0',
      address: this.address,
      claimSecretDigest: createHash('sha256').update(this.secret).digest('hex'),
      factoryPassword: false,
    }
  }
  async send(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<{ status: number; body: unknown }> {
    const response = await fetch(`${this.origin}/controller/v1/${path}`, {
      method,
      signal: AbortSignal.timeout(30_000),
      headers: {
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...(this.token ? { authorization: `Bearer ${this.token}` } : {}),
        ...headers,
      },
      ...(body === undefined
        ? {}
        : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    })
    const text = await response.text()
    return {
      status: response.status,
      body:
        response.headers.get('content-type')?.includes('json') && text !== ''
          ? JSON.parse(text)
          : text,
    }
  }
  async hello(): Promise<string> {
    return ((await this.send('POST', 'hello', this.greeting)).body as { status: string }).status
  }
  async askToken(): Promise<number> {
    const reply = await this.send('POST', 'token', {
      serial: this.serial,
      claimSecret: this.secret,
    })
    if (reply.status === 200) {
      this.token = (reply.body as { token: string }).token
      this.sequence = 0
    }
    return reply.status
  }
  fetchDesired(): Promise<{ status: number; body: unknown }> {
    return this.send('GET', 'desired')
  }
  reportBody(more: object = {}): Record<string, unknown> {
    return {
      sequence: ++this.sequence,
      phase: 'running',
      firmware: '5.2.0',
      configurationDigest: null,
      uptimeSeconds: 10,
      address: this.address,
      factoryPassword: false,
      ports: [],
      lines: [],
      done: [],
      message: null,
      ...more,
    }
  }
  async report(more: object = {}): Promise<number> {
    return (await this.send('POST', 'report', this.reportBody(more))).status
  }
}
