/**
 * A controller in memory for the tests of the stand-ins: claims every serial that it was told of.
 */
import { createHash } from 'node:crypto'
import type { Desired, Report, ReportReply, Running } from '@mast/protocol'
import type { ControllerHttp } from './world'

export interface Wanted {
  readonly configuration: Desired['configuration']
  readonly digest: string
  readonly firmware: string
}

export class ControllerDouble {
  readonly heard = new Map<string, { hardwareAddress: string; address: string }>()
  readonly reports = new Map<string, Report>()
  /** What devices sent of what they run, by serial; it is asked for once. */
  readonly running = new Map<string, Running>()
  /** Told to the device of a serial when it reports next. */
  readonly commands = new Map<string, ReportReply['commands']>()
  /** Told to every access point. */
  readonly clientRules: NonNullable<ReportReply['clientRules']> = []
  /** Addresses of the controller at which nobody is known. */
  readonly strangers = new Set<string>()
  /** What answers devices from their box; without it nobody does. */
  forNewcomers: ControllerHttp | null = null
  constructor(private readonly wanted: ReadonlyMap<string, Wanted>) {}

  readonly http: ControllerHttp = async (request) => {
    if (request.identity) return this.forNewcomers?.(request) ?? null
    const body = request.body as Record<string, string>
    const reply = (
      status: number,
      value: unknown,
      bytes = new Uint8Array(),
    ): { status: number; body: unknown; bytes: Uint8Array } => ({ status, body: value, bytes })
    if (request.path.endsWith('/hello')) {
      this.heard.set(body.serial!, {
        hardwareAddress: body.hardwareAddress!,
        address: body.address!,
      })
      return reply(200, {
        status:
          this.wanted.has(body.serial!) && !this.strangers.has(request.to ?? '')
            ? 'claimed'
            : 'unclaimed',
        retryAfterSeconds: 10,
      })
    }
    if (request.path.endsWith('/token'))
      return reply(200, { token: `token-of-${body.serial}-`.padEnd(40, 'x') })
    const serial = /^token-of-(.*?)-x*$/.exec(request.token ?? '')?.[1] ?? ''
    const wanted = this.wanted.get(serial)
    if (!wanted) return reply(401, null)
    if (request.path.endsWith('/desired')) {
      const image = new TextEncoder().encode(wanted.firmware)
      if (request.etag === wanted.digest) return reply(304, null)
      return reply(200, {
        digest: wanted.digest,
        configuration: wanted.configuration,
        apply: 'at-once',
        trialSeconds: null,
        firmware: {
          version: wanted.firmware,
          path: `/controller/v1/firmware/${wanted.firmware}`,
          digest: createHash('sha256').update(image).digest('hex'),
        },
      })
    }
    if (request.path.includes('/firmware/'))
      return reply(200, null, new TextEncoder().encode(wanted.firmware))
    if (request.path.endsWith('/running')) {
      this.running.set(serial, request.body as Running)
      return reply(200, {})
    }
    const report = request.body as Report
    this.reports.set(serial, report)
    const commands = this.commands.get(serial) ?? []
    this.commands.delete(serial)
    const { digest, firmware } = wanted
    return reply(200, {
      nextReportSeconds: 30,
      commands,
      clientRules: report.stations ? this.clientRules : null,
      applyInSeconds: null,
      trial: null,
      wants: { digest, firmware },
      sendRunning:
        report.configurationDigest !== null &&
        report.configurationDigest !== digest &&
        this.running.get(serial)?.digest !== report.configurationDigest,
    })
  }
}
