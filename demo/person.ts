/**
 * Somebody who works with Able Mast over its own routes: signs in, opens sites, works through a run
 * sheet.
 */
import * as api from '@mast/api'
import { runSheetOf } from '@mast/core/bringup'
import type { SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'

const FAST = 1000
const UNHURRIED = 60
const PATIENCE_MS = 180_000

export class Person extends api.Client {
  async enter(name: string, password: string): Promise<void> {
    const { needsSetup } = await this.ask(api.readSession, {})
    await this.ask(needsSetup ? api.setUp : api.signIn, { body: { name, password } })
  }

  sites(): Promise<api.SiteLine[]> {
    return this.ask(api.readSites, {})
  }
  open(plan: SitePlan): Promise<{ id: string }> {
    return this.ask(api.openSite, { body: { name: plan.site.name, plan } })
  }

  /** Works through the whole run sheet by the hands of the stand-ins, then proves. */
  async bringUp(site: string): Promise<void> {
    const params = { site }
    const { plan } = await this.ask(api.readSite, { params })
    await this.ask(api.setSpeed, { params, body: { speed: FAST } })
    for (const step of runSheetOf(siteModel(plan))) {
      if (step.follows?.kind === 'proof') {
        await this.ask(api.runProof, { params, body: { only: null } })
        await this.tick(site, step.id, 'person')
        continue
      }
      if (step.follows) {
        const { deviceId, state } = step.follows
        if (state === 'claimed') {
          const serial = plan.devices[deviceId]!.serial!
          await this.ask(api.claimDevice, { params: { site, device: deviceId }, body: { serial } })
        }
        await this.until(site, deviceId, state)
      }
      await this.tick(site, step.id, 'standins')
    }
    await this.ask(api.setSpeed, { params, body: { speed: UNHURRIED } })
  }

  private async tick(site: string, step: string, by: 'standins' | 'person'): Promise<void> {
    await this.ask(api.tickStep, { params: { site, step }, body: { by, acknowledged: true } })
  }

  private async until(
    site: string,
    deviceId: string,
    state: 'claimed' | 'in-service',
  ): Promise<void> {
    const deadline = Date.now() + PATIENCE_MS
    for (;;) {
      const { devices } = await this.ask(api.readRoll, { params: { site } })
      const device = devices.find((d) => d.deviceId === deviceId)
      if (state === 'claimed' ? device?.claimed : device?.state === 'in-service') return
      if (Date.now() > deadline)
        throw new Error(`${deviceId} is ${device?.state} and did not become ${state}`)
      await new Promise((r) => setTimeout(r, 150))
    }
  }
}
