/**
 * Somebody who works with Able Mast over its own routes: signs in, opens sites, works through a run
 * sheet.
 */
import { runSheetOf } from '@mast/core/bringup'
import type { SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'

const FAST = 1000
const UNHURRIED = 60
const PATIENCE_MS = 180_000

export interface SiteLine {
  readonly id: string
  readonly name: string
  readonly proof: unknown
}

export class Person {
  private cookie = ''
  constructor(private readonly origin: string) {}

  async call<T>(method: string, path: string, body?: unknown): Promise<T> {
    const response = await fetch(this.origin + path, {
      method,
      headers: {
        ...(this.cookie ? { cookie: this.cookie } : {}),
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    })
    const set = response.headers.get('set-cookie')
    if (set) this.cookie = set.split(';')[0]!
    const value = (await response.json().catch(() => null)) as { message?: string } | null
    if (!response.ok)
      throw new Error(`${method} ${path}: ${response.status} ${value?.message ?? ''}`)
    return value as T
  }

  async enter(name: string, password: string): Promise<void> {
    const { needsSetup } = await this.call<{ needsSetup: boolean }>('GET', '/api/session')
    await this.call('POST', needsSetup ? '/api/setup' : '/api/session', { name, password })
  }

  sites(): Promise<SiteLine[]> {
    return this.call('GET', '/api/sites')
  }
  open(plan: SitePlan): Promise<{ id: string }> {
    return this.call('POST', '/api/sites', { name: plan.site.name, plan })
  }

  /** Works through the whole run sheet by the hands of the stand-ins, then proves. */
  async bringUp(siteId: string): Promise<void> {
    const at = `/api/sites/${siteId}`
    const { plan } = await this.call<{ plan: SitePlan }>('GET', at)
    await this.call('POST', `${at}/standins/clock`, { speed: FAST })
    for (const step of runSheetOf(siteModel(plan))) {
      if (step.id === 'prove') break
      if (step.follows?.state === 'claimed')
        await this.call('POST', `${at}/devices/${step.follows.deviceId}/claim`, {
          serial: plan.devices[step.follows.deviceId]!.serial,
        })
      if (step.follows) await this.until(at, step.follows.deviceId, step.follows.state)
      await this.call('PUT', `${at}/steps/${encodeURIComponent(step.id)}`, {
        by: 'standins',
        acknowledged: true,
        note: '',
      })
    }
    await this.call('POST', `${at}/proof`, { only: null })
    await this.call('PUT', `${at}/steps/prove`, { by: 'person', acknowledged: true, note: '' })
    await this.call('POST', `${at}/standins/clock`, { speed: UNHURRIED })
  }

  private async until(
    at: string,
    deviceId: string,
    state: 'claimed' | 'in-service',
  ): Promise<void> {
    const deadline = Date.now() + PATIENCE_MS
    for (;;) {
      const { devices } = await this.call<{
        devices: { deviceId: string; state: string; claimed: boolean }[]
      }>('GET', `${at}/devices`)
      const device = devices.find((d) => d.deviceId === deviceId)
      if (state === 'claimed' ? device?.claimed : device?.state === 'in-service') return
      if (Date.now() > deadline)
        throw new Error(`${deviceId} is ${device?.state} and did not become ${state}`)
      await new Promise((r) => setTimeout(r, 150))
    }
  }
}
