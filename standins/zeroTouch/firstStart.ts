/**
 * How a device from its box asks the servers that its lease names (RFC 8572 5.3): by its
 * certificate, with a question that was never asked before, on to whom it is passed. It takes
 * nothing that was not signed for it.
 */
import { createHash, randomBytes } from 'node:crypto'
import { configurationSchema, type Configuration } from '@mast/protocol'
import {
  bootstrapOutputSchema,
  OPERATION,
  RESTCONF_ROOT,
  type BootstrapInput,
  type BootstrapOutput,
  type ProgressType,
} from '@mast/protocol/zeroTouch'
import type { ApplianceSurroundings } from '../devices/appliance'
import { base64, octets } from './base64'
import { judged, type Judged } from './judge'

export interface BootstrapServer {
  readonly host: string
  readonly port: number
}
/** The device that asks. */
export interface Starter {
  readonly serial: string
  readonly model: string
  readonly firmware: string
  readonly kind: Configuration['kind']
}
export type Started =
  | { readonly kind: 'firmware'; readonly version: string }
  | { readonly kind: 'configuration'; readonly configuration: Configuration }

interface PassedOn {
  readonly kind: 'passed-on'
  readonly servers: readonly BootstrapServer[]
}

const HTTPS = 443
const NONCE_OCTETS = 16
/** More than this and it is sent round in circles. */
const MOST_SERVERS = 8

export const serverOf = (uri: string): BootstrapServer | null => {
  const match = /^https:\/\/([a-z\d.-]+)(?::(\d{1,5}))?\/?$/i.exec(uri)
  return match && { host: match[1]!, port: match[2] ? Number(match[2]) : HTTPS }
}

type Around = Pick<ApplianceSurroundings, 'aside' | 'factory' | 'http' | 'now'>

export class FirstStart {
  private asked = 0

  constructor(
    private readonly around: Around,
    private readonly starter: Starter,
    /** Whether somebody answers there, over the network as it stands. */
    private readonly reach: (host: string, port: number, done: (isThere: boolean) => void) => void,
    /** Null where nobody had anything for it. */
    private readonly done: (started: Started | null) => void,
  ) {}

  ask([server, ...others]: readonly BootstrapServer[]): void {
    if (!server || ++this.asked > MOST_SERVERS) return this.done(null)
    this.reach(server.host, server.port, (isThere) => {
      if (!isThere) return this.ask(others)
      void this.around
        .aside(() => this.answerOf(server))
        .then((outcome) => {
          if (outcome === null) this.ask(others)
          else if (outcome.kind === 'passed-on') this.ask([...outcome.servers, ...others])
          else this.done(outcome)
        })
    })
  }

  /** What a server had for it, or to whom it passed it on. */
  private async answerOf(server: BootstrapServer): Promise<Started | PassedOn | null> {
    const nonce = randomBytes(NONCE_OCTETS)
    const output = await this.call(server, nonce)
    if (!output) return null
    const outcome = await judged(output, {
      serial: this.starter.serial,
      anchors: await this.around.factory.anchors(),
      nonce,
      now: this.around.now(),
    })
    switch (outcome.kind) {
      case 'redirect':
        return {
          kind: 'passed-on',
          servers: outcome.servers.map(({ address, port }) => ({ host: address, port })),
        }
      case 'refused':
        await this.report(server, 'parsing-error', outcome.why)
        return null
      case 'onboarding':
        return this.take(server, outcome.information)
    }
  }

  private async call(server: BootstrapServer, nonce: Uint8Array): Promise<BootstrapOutput | null> {
    const { model, firmware } = this.starter
    const input: BootstrapInput = {
      'signed-data-preferred': [null],
      'hw-model': model,
      'os-version': firmware,
      nonce: base64(nonce),
    }
    const reply = await this.send(server, OPERATION.get, input)
    const parsed = bootstrapOutputSchema.safeParse(reply?.body)
    return reply?.status === 200 && parsed.success
      ? parsed.data['ietf-sztp-bootstrap-server:output']
      : null
  }

  private async send(server: BootstrapServer, operation: string, input: object) {
    return this.around.http({
      method: 'POST',
      path: `${RESTCONF_ROOT}/operations/${operation}`,
      server,
      identity: await this.around.factory.identity(this.starter.serial),
      body: { 'ietf-sztp-bootstrap-server:input': input },
    })
  }

  private async report(
    server: BootstrapServer,
    type: ProgressType,
    message: string,
  ): Promise<void> {
    await this.send(server, OPERATION.report, { 'progress-type': type, message })
  }

  /** Firmware first; with it, it starts anew and asks again. */
  private async take(
    server: BootstrapServer,
    told: Extract<Judged, { kind: 'onboarding' }>['information'],
  ): Promise<Started | null> {
    const { 'boot-image': image, configuration } = told
    const version = image?.['os-version']
    if (version !== undefined && version !== this.starter.firmware) {
      const why = await this.damage(server, image!)
      if (why === null) return { kind: 'firmware', version }
      await this.report(server, 'boot-image-error', why)
      return null
    }
    const read = configurationSchema.safeParse(parsed(configuration ?? ''))
    if (!read.success || read.data.kind !== this.starter.kind) {
      await this.report(server, 'config-error', 'the configuration is not for this kind of device')
      return null
    }
    // It has all and has read it; what is left is writing it and starting with it.
    await this.report(server, 'bootstrap-complete', `with firmware ${this.starter.firmware}`)
    return { kind: 'configuration', configuration: read.data }
  }

  /** Why an image is not to be used; null where it is. */
  private async damage(
    server: BootstrapServer,
    image: NonNullable<Extract<Judged, { kind: 'onboarding' }>['information']['boot-image']>,
  ): Promise<string | null> {
    const path = /^https:\/\/[^/]+(\/.*)$/.exec(image['download-uri']?.[0] ?? '')?.[1]
    const wanted = image['image-verification']?.[0]?.['hash-value'].replace(/:/g, '').toLowerCase()
    if (!path || !wanted) return 'nobody says where the image is, or what it is to be'
    const reply = await this.around.http({
      method: 'GET',
      path,
      server,
      identity: await this.around.factory.identity(this.starter.serial),
    })
    if (reply?.status !== 200) return 'the image is not there'
    const digest = createHash('sha256').update(reply.bytes).digest('hex')
    return digest === wanted ? null : 'the image arrived damaged'
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(new TextDecoder().decode(octets(text)))
  } catch {
    return null
  }
}
