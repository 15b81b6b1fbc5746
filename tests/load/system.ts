/** A throwaway system for the load tests, with one site of many devices. */
import { createHash, randomBytes, randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { catalogue, type SitePlan } from '@mast/core/plan'
import { freePort } from '../../scripts/start/ports.mjs'
import { startSystem, type System } from '../../scripts/start/system.mjs'

export const isWhole = process.env.MAST_LOAD === 'whole'
export const NAME = 'night watch'
export const PASSWORD = 'eight-bells-and-all-well'

export async function throwaway(
  otherControllers = '',
): Promise<{ system: System; close(): Promise<void> }> {
  const folder = mkdtempSync(join(tmpdir(), 'able-mast-load-'))
  const system = await startSystem({
    ports: [await freePort()],
    databaseFolder: `${folder}-database`,
    standinsFolder: join(folder, 'standins'),
    vaultKey: randomBytes(32).toString('base64'),
    otherControllers,
  })
  return {
    system,
    close: async () => {
      await system.stop()
      for (const f of [folder, `${folder}-database`]) rmSync(f, { recursive: true, force: true })
    },
  }
}

export const serialOf = (n: number): string => `AM-LOAD-${String(n).padStart(5, '0')}`
/** A plan with plain devices that a controller adopts, numbered from the first. */
export function planWith(first: number, count: number, base: SitePlan): SitePlan {
  const plan = structuredClone(base)
  const profileId = 'ap-indoor-2x2'
  plan.profiles[profileId] = structuredClone(catalogue[profileId]!)
  for (let n = first; n < first + count; n++) {
    const id = `unit-${n}`
    plan.devices[id] = {
      id,
      name: `Unit ${n}`,
      profileId,
      locationId: null,
      serial: serialOf(n),
      hardwareAddress: `02:0a:00:${[n >> 16, n >> 8, n].map((o) => (o & 255).toString(16).padStart(2, '0')).join(':')}`,
      firmware: null,
      addressing: { mode: 'automatic', segmentId: null, address: null, gateway: null },
      power: 'outlet',
      stays: false,
      licencesHeld: [],
      wirelessNetworkId: null,
      serviceIds: [],
      place: null,
      radios: [],
      mode: null,
      listensToId: null,
      school: null,
      setUpAt: null,
      setUpBy: null,
      watchdog: null,
      firmwareWanted: null,
    }
    plan.ports[`${id}.eth0`] = {
      id: `${id}.eth0`,
      deviceId: id,
      name: 'eth0',
      untaggedSegmentId: null,
      taggedSegmentIds: [],
    }
  }
  return plan
}
export const change = (
  name: string,
  args: object,
): { id: string; kind: 'edit'; name: string; args: object } => ({
  id: randomUUID(),
  kind: 'edit',
  name,
  args,
})

/**
 * HTTP with connections that are kept, without the weight of fetch: thousands of devices in one
 * process.
 */
export class Line {
  private readonly agent: Agent
  private readonly url: URL
  constructor(origin: string, maxSockets = 64) {
    this.url = new URL(origin)
    this.agent = new Agent({ keepAlive: true, maxSockets })
  }
  send(
    method: string,
    path: string,
    body: unknown,
    headers: Record<string, string> = {},
  ): Promise<{ status: number; text: string }> {
    const text =
      body === undefined ? undefined : typeof body === 'string' ? body : JSON.stringify(body)
    return new Promise((resolve, reject) => {
      const r = request(
        {
          host: this.url.hostname,
          port: this.url.port,
          method,
          path,
          agent: this.agent,
          timeout: 20_000,
          headers: {
            ...(text === undefined
              ? {}
              : { 'content-type': 'application/json', 'content-length': Buffer.byteLength(text) }),
            ...headers,
          },
        },
        (response) => {
          const chunks: Buffer[] = []
          response.on('data', (c: Buffer) => chunks.push(c))
          response.on('end', () =>
            resolve({ status: response.statusCode!, text: Buffer.concat(chunks).toString() }),
          )
          response.on('error', reject)
        },
      )
      r.on('timeout', () => r.destroy(new Error('timeout')))
      r.on('error', reject)
      r.end(text)
    })
  }
  close(): void {
    this.agent.destroy()
  }
}

/** A device that is light: it says hello, gets its token and reports; nothing else. */
export class LightDevice {
  sequence = 0
  acknowledged = 0
  token = ''
  private readonly secret = randomBytes(32).toString('hex')
  constructor(
    private readonly line: Line,
    readonly n: number,
  ) {}
  private get address(): string {
    return `10.200.${(this.n >> 8) & 255}.${this.n & 255}`
  }
  async hello(): Promise<number> {
    const claimSecretDigest = createHash('sha256').update(this.secret).digest('hex')
    return (
      await this.line.send('POST', '/controller/v1/hello', {
        serial: serialOf(this.n),
        hardwareAddress: '02:0a:00:00:00:01',
        model: 'ap-indoor-2x2',
        firmware: '5.2.0',
        address: this.address,
        claimSecretDigest,
        factoryPassword: false,
      })
    ).status
  }
  /** A new token, under which reports are counted from the start. */
  async fetchToken(): Promise<number> {
    const { status, text } = await this.line.send('POST', '/controller/v1/token', {
      serial: serialOf(this.n),
      claimSecret: this.secret,
    })
    if (status === 200) {
      this.token = (JSON.parse(text) as { token: string }).token
      this.sequence = this.acknowledged = 0
    }
    return status
  }
  /** Asks for its configuration, as after a start. */
  async fetchDesired(): Promise<number> {
    return (
      await this.line.send('GET', '/controller/v1/desired', undefined, {
        authorization: `Bearer ${this.token}`,
      })
    ).status
  }
  body(sequence: number): object {
    return {
      sequence,
      phase: 'running',
      firmware: '5.2.0',
      configurationDigest: null,
      uptimeSeconds: sequence * 10,
      address: this.address,
      factoryPassword: false,
      ports: [{ name: 'eth0', up: true, heard: [] }],
      lines: [],
      done: [],
      message: null,
    }
  }
  /**
   * Sends the next report; a replay refused means that the one before had arrived although its
   * answer did not.
   */
  async report(): Promise<number> {
    const sequence = ++this.sequence
    const { status } = await this.line.send('POST', '/controller/v1/report', this.body(sequence), {
      authorization: `Bearer ${this.token}`,
    })
    if (status === 200) this.acknowledged = sequence
    return status
  }
}
