/** What happens in the field: devices, steps, the stand-ins, the proof. Follows the server's notices. */
import type { Cause, ProofCount, ProofResult } from '@mast/core/proof'
import type { AdoptionState } from '@mast/core/adoption'
import type { Fault, Snapshot } from '@mast/standins/control'

export interface RollDevice {
  readonly deviceId: string; readonly state: AdoptionState; readonly claimed: boolean; readonly firmware: string | null; readonly address: string | null
  readonly factoryPassword: boolean | null; readonly lastHeardAt: string | null; readonly changedAt: string; readonly configurationMatches: boolean | null
  readonly desiredMissing: string[]; readonly ports: { name: string; up: boolean; heard: string[] }[]; readonly line: { up: boolean; address: string | null } | null
}
export interface ForeignDevice { readonly serial: string; readonly hardwareAddress: string; readonly model: string; readonly firmware: string; readonly lastHeardAt: string; readonly nearest: string | null }
export interface DeviceEvent { readonly deviceId: string; readonly at: string; readonly fromState: string; readonly toState: string; readonly event: string; readonly detail: string }
export interface StepDone { readonly stepId: string; readonly doneAt: string; readonly readyAt: string; readonly by: string | null; readonly note: string }
export interface Proof { readonly id: string; readonly at: string; readonly revision: number; readonly body: { results: ProofResult[]; causes: Cause[]; count: ProofCount } }

export const useField = defineStore('field', () => {
  const site = useSite()
  const devices = ref<RollDevice[]>([])
  const foreign = ref<ForeignDevice[]>([])
  const events = ref<DeviceEvent[]>([])
  const steps = ref<StepDone[]>([])
  const standins = shallowRef<Snapshot | null>(null)
  const proof = shallowRef<Proof | null>(null)
  const live = ref(false)
  const loaded = ref(false)
  let stream: EventSource | undefined
  let followed: string | null = null

  const at = (path: string): string => `/api/sites/${site.id}/${path}`
  // The routes' own types are deeper than the compiler goes; what is read is named at each call.
  const ask = <T>(path: string, options: { method?: 'GET' | 'POST' | 'PUT' | 'DELETE'; body?: object } = {}): Promise<T> => ($fetch as (url: string, o: object) => Promise<T>)(at(path), options)
  async function readDevices(): Promise<void> {
    const reply = await ask<{ devices: RollDevice[]; foreign: ForeignDevice[]; events: DeviceEvent[] }>('devices')
    devices.value = reply.devices
    foreign.value = reply.foreign
    events.value = reply.events
  }
  const readSteps = async (): Promise<void> => { steps.value = await ask<StepDone[]>('steps') }
  const readProof = async (): Promise<void> => { proof.value = (await ask<{ proof: Proof | null }>('proof')).proof }
  const readStandins = async (): Promise<void> => { standins.value = (await ask<{ standins: Snapshot | null }>('standins').catch(() => ({ standins: null }))).standins }

  async function follow(): Promise<void> {
    if (followed === site.id) return
    unfollow()
    followed = site.id
    stream = new EventSource(at('events'))
    stream.addEventListener('open', () => { live.value = true; void readAll() })
    stream.addEventListener('error', () => { live.value = false })
    stream.addEventListener('plan', (e) => { void site.heard((JSON.parse((e as MessageEvent<string>).data) as { revision: number | null }).revision); void readDevices() })
    stream.addEventListener('devices', () => void readDevices())
    stream.addEventListener('steps', () => void readSteps())
    stream.addEventListener('evidence', () => void readProof())
    stream.addEventListener('standins', () => void readStandins())
    await readAll()
  }
  const readAll = async (): Promise<void> => { await Promise.all([readDevices(), readSteps(), readProof(), readStandins()]); loaded.value = true }
  function unfollow(): void {
    stream?.close()
    stream = undefined
    followed = null
    live.value = false
    loaded.value = false
    devices.value = []
    foreign.value = []
    steps.value = []
    standins.value = null
    proof.value = null
  }

  /** Runs a request; gives its reason where it failed. */
  async function attempt(run: () => Promise<unknown>): Promise<string | undefined> {
    try { await run(); return undefined } catch (error) { return errorText(error) }
  }
  const claim = (deviceId: string, serial: string) => attempt(async () => { await ask(`devices/${deviceId}/claim`, { method: 'POST', body: { serial } }); await readDevices() })
  const release = (deviceId: string) => attempt(async () => { await ask(`devices/${deviceId}/release`, { method: 'POST' }); await readDevices() })
  const command = (deviceId: string, what: 'fetch' | 'restart' | 'locate') => attempt(() => ask(`devices/${deviceId}/command`, { method: 'POST', body: { command: what } }))
  const tick = (stepId: string, by: 'person' | 'standins', acknowledged: boolean, note = '') =>
    attempt(async () => { await ask(`steps/${encodeURIComponent(stepId)}`, { method: 'PUT', body: { by, acknowledged, note } }); await Promise.all([readSteps(), readStandins()]) })
  const untick = (stepId: string) => attempt(async () => { await ask(`steps/${encodeURIComponent(stepId)}`, { method: 'DELETE' }); await readSteps() })
  const setSpeed = (speed: number) => attempt(async () => { standins.value = (await ask<{ standins: Snapshot }>('standins/clock', { method: 'POST', body: { speed } })).standins })
  const setFault = (fault: Fault, on: boolean) => attempt(async () => { await ask('standins/fault', { method: 'POST', body: { fault, on } }); await readStandins() })
  const putBack = () => attempt(async () => { await ask('standins', { method: 'DELETE' }); await readAll() })
  const prove = (only: string[] | null) => attempt(async () => { proof.value = (await ask<{ proof: Proof }>('proof', { method: 'POST', body: { only } })).proof })
  const secret = async (ref: string): Promise<string> => (await ask<{ secret: string }>(`secrets/${ref}`)).secret

  return { devices, foreign, events, steps, standins, proof, live, loaded, follow, unfollow, readStandins, readDevices, claim, release, command, tick, untick, setSpeed, setFault, putBack, prove, secret }
})
