/**
 * Somebody who works with Able Mast over its own routes: signs in, opens sites, works through a run
 * sheet.
 */
import { randomUUID } from 'node:crypto'
import * as api from '@mast/api'
import { runSheetOf, type Step } from '@mast/core/bringup'
import { findingsOf } from '@mast/core/findings'
import { editCall, type EditCall, type SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { drillExpected, turnOf } from '@mast/core/uplinks'

const FAST = 1000
const UNHURRIED = 60
const PATIENCE_MS = 180_000
const LOOK_AGAIN_MS = 150

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

  /** Mends what rules catch by the first fix that each offers, one change each. */
  async mend(site: string, catches: readonly string[]): Promise<void> {
    const params = { site }
    for (const caught of catches) {
      const { plan } = await this.ask(api.readSite, { params })
      const fix = findingsOf(plan).find((f) => f.catches.includes(caught))?.fixes?.[0]
      if (!fix) throw new Error(`nothing mends ${caught} of ${plan.site.name}`)
      await this.edit(site, fix.label, fix.edits)
    }
  }

  /** Makes the keys of tunnels that have none. */
  async makeTunnelKeys(site: string): Promise<void> {
    const params = { site }
    const { plan } = await this.ask(api.readSite, { params })
    for (const { id, name, publicKey } of Object.values(plan.tunnels)) {
      if (publicKey !== null) continue
      const changes = await this.ask(api.makeTunnelKey, { params, body: { of: 'tunnel', id } })
      await this.edit(site, `The key of ${name} is made`, [
        editCall('changeTunnel', { id, changes }),
      ])
    }
  }

  /** Tells each of two sites the public key of the other. */
  async joinByTunnel(here: string, tunnel: string, there: string, other: string): Promise<void> {
    const idOf = async (name: string): Promise<string> =>
      (await this.sites()).find((s) => s.name === name)!.id
    const ends = [
      { site: await idOf(here), tunnel },
      { site: await idOf(there), tunnel: other },
    ]
    const plans = await Promise.all(
      ends.map(async ({ site }) => (await this.ask(api.readSite, { params: { site } })).plan),
    )
    for (const [n, end] of ends.entries()) {
      const { publicKey } = plans[1 - n]!.tunnels[ends[1 - n]!.tunnel]!
      const peer = Object.values(plans[n]!.peers).find((p) => p.tunnelId === end.tunnel)!
      if (peer.publicKey !== publicKey)
        await this.edit(end.site, `The key of ${peer.name} came`, [
          editCall('changePeer', { id: peer.id, changes: { publicKey } }),
        ])
    }
  }

  /** Saves edits as one change. */
  async edit(site: string, summary: string, edits: readonly EditCall[]): Promise<void> {
    const params = { site }
    const { revision } = await this.ask(api.readSite, { params })
    const change = { id: randomUUID(), kind: 'edits' as const, summary, edits: [...edits] }
    await this.ask(api.saveChanges, { params, body: { base: revision, changes: [change] } })
  }

  /**
   * Works through the run sheet by the hands of the stand-ins, proofs with it.
   * @param isWanted of steps that are left out nothing else that is wanted may hang
   * @param claimsByHand for the others makers have vouched, and it is waited for
   */
  async bringUp(
    site: string,
    isWanted: (step: Step) => boolean = () => true,
    claimsByHand: (deviceId: string) => boolean = () => true,
  ): Promise<void> {
    const params = { site }
    const { plan } = await this.ask(api.readSite, { params })
    await this.ask(api.setSpeed, { params, body: { speed: FAST } })
    for (const step of runSheetOf(siteModel(plan)).filter(isWanted)) {
      if (step.follows?.kind === 'proof') {
        await this.prove(site)
        await this.tick(site, step.id, 'person')
        continue
      }
      if (step.kind === 'failover') await this.tryFailover(site, plan)
      if (step.follows) {
        const { deviceId, state } = step.follows
        if (state === 'claimed' && claimsByHand(deviceId)) {
          const serial = plan.devices[deviceId]!.serial!
          await this.ask(api.claimDevice, { params: { site, device: deviceId }, body: { serial } })
        }
        await this.until(site, deviceId, state)
      }
      await this.tick(site, step.id, 'standins')
    }
    await this.ask(api.setSpeed, { params, body: { speed: UNHURRIED } })
  }

  /** Takes the first line away, as the run sheet ends with it: the restart lies behind. */
  private async tryFailover(site: string, plan: SitePlan): Promise<void> {
    const model = siteModel(plan)
    const turn = turnOf(model)!
    const { over } = drillExpected(model, turn, 'path')
    const body = {
      kind: 'path' as const,
      outageSeconds: Math.ceil(over?.worst ?? 60) + 30,
      isAfterRestart: true,
    }
    await this.ask(api.runDrill, { params: { site }, body })
  }

  /** Until nothing contradicts: what was without power needs its time. */
  private async prove(site: string): Promise<void> {
    const deadline = Date.now() + PATIENCE_MS
    for (;;) {
      const { proof } = await this.ask(api.runProof, { params: { site }, body: { only: null } })
      if (proof.body.count.contradicts === 0) return
      if (Date.now() > deadline) throw new Error(`the proof of ${site} contradicts its plan`)
      await new Promise((r) => setTimeout(r, LOOK_AGAIN_MS))
    }
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
      await new Promise((r) => setTimeout(r, LOOK_AGAIN_MS))
    }
  }
}
