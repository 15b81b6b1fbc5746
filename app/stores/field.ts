/**
 * What happens in the field: devices, steps, evidence, the stand-ins, the proof. Follows the
 * server's notices; works on without them.
 */
import { fieldFindingsOf } from '@mast/core/field'
import { answered, browserActs } from '~/offline/browserStore'
import { FieldQueue, type Act } from '~/offline/fieldQueue'
import type { Base } from '~/offline/workingCopy'
import type { ReleasePreview } from '@mast/core/release'
import type { Cause, ProofCount, ProofResult } from '@mast/core/proof'
import type { AdoptionState } from '@mast/core/adoption'
import type { Fault, Snapshot } from '@mast/standins/control'

export interface RollDevice {
  readonly deviceId: string
  readonly state: AdoptionState
  readonly claimed: boolean
  readonly claimedElsewhere: boolean
  readonly plannedElsewhere: boolean
  readonly model: string | null
  readonly firmware: string | null
  readonly address: string | null
  readonly factoryPassword: boolean | null
  readonly lastHeardAt: string | null
  readonly changedAt: string
  readonly configurationMatches: boolean | null
  /** Absent in what was kept of an earlier version. */
  readonly callers?: { address: string; hardwareAddress: string; model: string; sinceMs: number }[]
  /** Absent in what was kept of an earlier version. */
  readonly release?: number | null
  readonly isUnsent?: boolean
  readonly wentBack?: boolean
  readonly desiredMissing: string[]
  readonly ports: { name: string; up: boolean; heard: string[] }[]
  readonly line: { up: boolean; address: string | null } | null
}
export interface ForeignDevice {
  readonly serial: string
  readonly hardwareAddress: string
  readonly model: string
  readonly firmware: string
  readonly lastHeardAt: string
  readonly nearest: string | null
}
export interface DeviceEvent {
  readonly deviceId: string
  readonly at: string
  readonly fromState: string
  readonly toState: string
  readonly event: string
  readonly detail: string
}
export interface StepDone {
  readonly stepId: string
  readonly doneAt: string
  readonly readyAt: string
  readonly by: string | null
  readonly note: string
  /** Not on the server yet; with the reason where it refused. */
  readonly unsent?: { readonly actId: string; readonly refused: string | null }
}
export interface EvidenceLine {
  readonly id: string
  readonly kind: string
  readonly at: string
  readonly who: string | null
  readonly revision: number
  readonly stepId: string | null
  readonly body: { readonly text?: string; readonly deviceId?: string; readonly digest?: string }
  readonly mediaType: string | null
  readonly unsent?: { readonly refused: string | null; readonly picture: string | null }
}
export interface Proof {
  readonly id: string
  readonly at: string
  readonly revision: number
  /** That devices had; null where nothing was released. */ readonly release?: number | null
  readonly body: { results: ProofResult[]; causes: Cause[]; count: ProofCount }
}

export interface ReleaseLine {
  readonly number: number
  readonly revision: number
  readonly state: 'sending' | 'done' | 'stopped'
  readonly why: string
  readonly note: string
  readonly who: string | null
  readonly at: string
  readonly endedAt: string | null
  readonly wave: number
  readonly waves: number
  readonly applyAt: string | null
}
export interface Releases {
  readonly releases: readonly ReleaseLine[]
  readonly standing: number | null
  readonly standingRevision: number | null
  readonly underWay: readonly {
    readonly deviceId: string
    readonly wave: number
    readonly at: 'waits' | 'fetches' | 'holds' | 'tries' | 'kept'
  }[]
}

const RETRY_MS = 3000
/** Working out a large release takes its time. */
const PREVIEW_TIMEOUT_MS = 60_000

export const useField = defineStore('field', () => {
  const site = useSite()
  const session = useSession()
  const devices = shallowRef<readonly RollDevice[]>([])
  const foreign = shallowRef<readonly ForeignDevice[]>([])
  const events = shallowRef<readonly DeviceEvent[]>([])
  const sentSteps = shallowRef<readonly StepDone[]>([])
  const sentEvidence = shallowRef<readonly EvidenceLine[]>([])
  const acts = shallowRef<readonly Act[]>([])
  /** How many of them this browser could not keep. */
  const unkept = ref(0)
  const standins = shallowRef<Snapshot | null>(null)
  const proof = shallowRef<Proof | null>(null)
  const releases = shallowRef<Releases | null>(null)
  /** Devices on which the plan wants something else by now than what was released. */
  const unsent = computed(() => devices.value.filter((d) => d.isUnsent).length)
  /**
   * Whether the proof is of what devices have and the plan says: of this revision, or of the
   * release with nothing unsent.
   */
  const proofIsCurrent = computed(
    () =>
      proof.value !== null &&
      (proof.value.revision === site.revision ||
        (proof.value.release != null &&
          proof.value.release === releases.value?.standing &&
          unsent.value === 0)),
  )
  const live = ref(false)
  const loaded = ref(false)
  let stream: EventSource | undefined
  let followed: string | null = null
  let retry: ReturnType<typeof setTimeout> | undefined

  /** Looked at every few seconds, as waits become too long by themselves. */
  const clock = useNow({ interval: 5000 })
  const ms = (at_: string): number => new Date(at_).getTime()
  const model = useLater(() => site.model)
  const findings = computed(() =>
    model.value && loaded.value
      ? fieldFindingsOf(model.value, {
          devices: devices.value.map((d) => ({
            ...d,
            callers: d.callers ?? [],
            lastHeardMs: d.lastHeardAt ? ms(d.lastHeardAt) : null,
            changedMs: ms(d.changedAt),
          })),
          foreign: foreign.value,
          steps: steps.value.map((s) => ({ stepId: s.stepId, doneMs: ms(s.doneAt) })),
          nowMs: clock.value.getTime(),
          clockSpeed: standins.value?.speed ?? 1,
        })
      : [],
  )

  const at = (path: string): string => `/api/sites/${site.id}/${path}`
  const tell = <T>(
    path: string,
    options: { method: 'POST' | 'PUT' | 'DELETE'; body?: object },
  ): Promise<T> => ask<T>(at(path), options)
  const read = <T>(path: string): Promise<T> => {
    const whole = at(path)
    return answered(whole, () => ask<T>(whole, { timeoutMs: READ_TIMEOUT_MS }))
  }

  const asDone = (a: Extract<Act, { kind: 'tick' }>): StepDone => ({
    stepId: a.stepId,
    doneAt: a.at,
    readyAt: new Date(new Date(a.at).getTime() + a.waitMs).toISOString(),
    by: session.account?.name ?? null,
    note: a.note,
  })
  /** Steps as they are with what is done here and not sent yet. */
  const steps = computed<StepDone[]>(() => {
    const taken = new Set(
      acts.value.flatMap((a) => (a.kind === 'untick' && a.refused === null ? [a.stepId] : [])),
    )
    const kept = sentSteps.value.filter((s) => !taken.has(s.stepId))
    const there = new Set(kept.map((s) => s.stepId))
    const own = acts.value.flatMap((a): StepDone[] =>
      a.kind === 'tick' && !there.has(a.stepId)
        ? [{ ...asDone(a), unsent: { actId: a.id, refused: a.refused } }]
        : [],
    )
    return [...kept, ...own]
  })
  const evidence = computed<EvidenceLine[]>(() => [
    ...acts.value.flatMap((a): EvidenceLine[] =>
      a.kind === 'evidence'
        ? [
            {
              id: a.id,
              kind: a.what,
              at: a.at,
              who: session.account?.name ?? null,
              revision: site.revision,
              stepId: a.stepId,
              body: { text: a.text },
              mediaType: a.mediaType,
              unsent: {
                refused: a.refused,
                picture: a.file && a.mediaType ? `data:${a.mediaType};base64,${a.file}` : null,
              },
            },
          ]
        : [],
    ),
    ...sentEvidence.value.filter((e) => !acts.value.some((a) => a.id === e.id)),
  ])
  const send = async (act: Act): Promise<void> => {
    const path = `/api/sites/${act.siteId}`
    if (act.kind === 'tick')
      await ask(`${path}/steps/${encodeURIComponent(act.stepId)}`, {
        method: 'PUT',
        body: { by: 'person', acknowledged: act.acknowledged, note: act.note, at: act.at },
      })
    else if (act.kind === 'untick')
      await ask(`${path}/steps/${encodeURIComponent(act.stepId)}`, { method: 'DELETE' })
    else
      await ask(`${path}/evidence`, {
        method: 'POST',
        body: {
          id: act.id,
          at: act.at,
          stepId: act.stepId,
          text: act.text,
          kind: act.what,
          ...(act.what === 'photo' ? { file: act.file, mediaType: act.mediaType } : {}),
        },
      })
  }
  /**
   * What the server took is true from then on, not only when it is read back: a step does not open
   * again in between.
   */
  async function sendAndKeep(act: Act): Promise<void> {
    await send(act)
    if (act.siteId !== site.id || act.kind === 'evidence') return
    const others = sentSteps.value.filter((s) => s.stepId !== act.stepId)
    sentSteps.value = act.kind === 'tick' ? [...others, asDone(act)] : others
  }
  const queue = new FieldQueue(browserActs, sendAndKeep, () => {
    acts.value = queue.acts
    unkept.value = queue.unkept.size
  })
  /** Sends what waits here, then reads what became of it. */
  async function flush(): Promise<void> {
    const before = queue.acts.length
    const heard = await queue.flush()
    if (queue.acts.length < before) await Promise.all([readSteps(), readEvidence()]).catch(() => {})
    if (!heard && queue.acts.length > 0) {
      clearTimeout(retry)
      retry = setTimeout(() => void flush(), RETRY_MS)
    }
  }
  async function readDevices(): Promise<void> {
    const reply = await read<{
      devices: RollDevice[]
      foreign: ForeignDevice[]
      events: DeviceEvent[]
    }>('devices')
    devices.value = reply.devices
    foreign.value = reply.foreign
    events.value = reply.events
  }
  const readSteps = async (): Promise<void> => {
    sentSteps.value = await read<StepDone[]>('steps')
  }
  const readEvidence = async (): Promise<void> => {
    sentEvidence.value = await read<EvidenceLine[]>('evidence')
  }
  const readProof = async (): Promise<void> => {
    proof.value = (await read<{ proof: Proof | null }>('proof')).proof
  }
  const readStandins = async (): Promise<void> => {
    standins.value = (
      await ask<{ standins: Snapshot | null }>(at('standins'), {
        timeoutMs: READ_TIMEOUT_MS,
      }).catch(() => ({ standins: null }))
    ).standins
  }

  const readReleases = async (): Promise<void> => {
    releases.value = await read<Releases>('releases')
  }

  async function follow(): Promise<void> {
    if (followed === site.id) return
    unfollow()
    followed = site.id
    stream = new EventSource(at('events'))
    stream.addEventListener('open', () => {
      live.value = true
      void readAll()
      site.heard(null)
      void flush()
    })
    stream.addEventListener('error', () => {
      live.value = false
    })
    stream.addEventListener('now', (e) =>
      site.compare(JSON.parse((e as MessageEvent<string>).data) as Base),
    )
    stream.addEventListener('plan', (e) => {
      site.heard(
        (JSON.parse((e as MessageEvent<string>).data) as { revision: number | null }).revision,
      )
      void readDevices()
    })
    stream.addEventListener('devices', () => {
      void readDevices()
      if (releases.value?.underWay.length) void readReleases()
    })
    stream.addEventListener('releases', () => {
      void readReleases()
      void readDevices()
    })
    stream.addEventListener('steps', () => void readSteps())
    stream.addEventListener('evidence', () => {
      void readProof()
      void readEvidence()
    })
    stream.addEventListener('standins', () => void readStandins())
    stream.addEventListener('ended', () => void streamEnded())
    await queue.load(site.id!)
    await readAll()
    void flush()
  }
  const readAll = async (): Promise<void> => {
    await Promise.allSettled([
      readDevices(),
      readSteps(),
      readProof(),
      readStandins(),
      readEvidence(),
      readReleases(),
    ])
    loaded.value = true
  }
  /** The session or the membership is over. */
  async function streamEnded(): Promise<void> {
    const to = useRoute().fullPath
    unfollow()
    await session.refresh()
    await navigateTo(session.account ? '/' : { path: '/enter', query: { to } })
  }
  function unfollow(): void {
    stream?.close()
    stream = undefined
    followed = null
    live.value = false
    loaded.value = false
    devices.value = []
    foreign.value = []
    sentSteps.value = []
    sentEvidence.value = []
    acts.value = []
    clearTimeout(retry)
    standins.value = null
    releases.value = null
    proof.value = null
  }

  /** Runs a request; gives its reason where it failed. */
  async function attempt(run: () => Promise<unknown>): Promise<string | undefined> {
    try {
      await run()
      return undefined
    } catch (error) {
      return errorText(error)
    }
  }
  /** The reason where it was refused, or where nothing could be sent with it. */
  const claim = async (deviceId: string, serial: string): Promise<string | undefined> => {
    let notSent: string | null = null
    const refused = await attempt(async () => {
      notSent = (
        await tell<{ notSent: string | null }>(`devices/${deviceId}/claim`, {
          method: 'POST',
          body: { serial },
        })
      ).notSent
      await readDevices()
    })
    return (
      refused ??
      (notSent === null ? undefined : `It is claimed. Nothing was sent to it yet: ${notSent}`)
    )
  }
  /** What sending the plan would do, or why that cannot be said. */
  const previewRelease = async (revision: number): Promise<ReleasePreview | string> => {
    try {
      return await ask<ReleasePreview>(at(`releases/preview?revision=${revision}`), {
        timeoutMs: PREVIEW_TIMEOUT_MS,
      })
    } catch (error) {
      return errorText(error)
    }
  }
  const sendRelease = (revision: number, note: string) =>
    attempt(async () => {
      await tell('releases', { method: 'POST', body: { revision, note } })
      await Promise.all([readReleases(), readDevices()])
    })
  const stopRelease = (number: number) =>
    attempt(async () => {
      await tell(`releases/${number}/stop`, { method: 'POST' })
      await readReleases()
    })
  const giveUp = (deviceId: string) =>
    attempt(async () => {
      await tell(`devices/${deviceId}/give-up`, { method: 'POST' })
      await readDevices()
    })
  const command = (deviceId: string, what: 'fetch' | 'restart' | 'locate') =>
    attempt(() => tell(`devices/${deviceId}/command`, { method: 'POST', body: { command: what } }))
  const now = (): { id: string; siteId: string; at: string; tried: false; refused: null } => ({
    id: crypto.randomUUID(),
    siteId: site.id!,
    at: new Date().toISOString(),
    tried: false,
    refused: null,
  })
  /**
   * Ticks a step, here first. Gives the server's reason where it refused at once; the tick then
   * does not stand.
   */
  async function tick(
    step: { readonly id: string; readonly waitSeconds: number },
    acknowledged: boolean,
    note = '',
  ): Promise<string | undefined> {
    const act: Act = {
      ...now(),
      kind: 'tick',
      stepId: step.id,
      acknowledged,
      note,
      waitMs: (step.waitSeconds * 1000) / (standins.value?.speed ?? 1),
    }
    await queue.add(act)
    void flush()
    const refused = queue.acts.find((a) => a.id === act.id)?.refused
    if (refused) await queue.discard(act.id)
    await readSteps().catch(() => {})
    return refused ?? undefined
  }
  const untick = async (stepId: string): Promise<void> => {
    await queue.add({ ...now(), kind: 'untick', stepId })
    void flush()
    await readSteps().catch(() => {})
  }
  const keepEvidence = async (
    what: 'photo' | 'reading' | 'note',
    stepId: string | null,
    text: string,
    picture: { file: string; mediaType: string } | null,
  ): Promise<void> => {
    await queue.add({
      ...now(),
      kind: 'evidence',
      what,
      stepId,
      text,
      file: picture?.file ?? null,
      mediaType: picture?.mediaType ?? null,
    })
    void flush()
    await readEvidence().catch(() => {})
  }
  /** Lets the stand-ins do a step; that needs the server. */
  const letStandinsDo = (stepId: string, acknowledged: boolean, note = '') =>
    attempt(async () => {
      await tell(`steps/${encodeURIComponent(stepId)}`, {
        method: 'PUT',
        body: { by: 'standins', acknowledged, note },
      })
      await Promise.all([readSteps(), readStandins()])
    })
  const setSpeed = (speed: number) =>
    attempt(async () => {
      standins.value = (
        await tell<{ standins: Snapshot }>('standins/clock', { method: 'POST', body: { speed } })
      ).standins
    })
  const setFault = (fault: Fault, on: boolean) =>
    attempt(async () => {
      await tell('standins/fault', { method: 'POST', body: { fault, on } })
      await readStandins()
    })
  const putBack = () =>
    attempt(async () => {
      await tell('standins', { method: 'DELETE' })
      await readAll()
    })
  const prove = (only: string[] | null) =>
    attempt(async () => {
      proof.value = (
        await tell<{ proof: Proof }>('proof', { method: 'POST', body: { only } })
      ).proof
    })
  const secret = async (ref: string): Promise<string> =>
    (await ask<{ secret: string }>(at(`secrets/${ref}`))).secret

  return {
    releases,
    unsent,
    proofIsCurrent,
    previewRelease,
    sendRelease,
    stopRelease,
    devices,
    foreign,
    events,
    findings,
    steps,
    evidence,
    acts,
    unkept,
    standins,
    proof,
    live,
    loaded,
    follow,
    unfollow,
    readStandins,
    readDevices,
    claim,
    giveUp,
    command,
    tick,
    untick,
    keepEvidence,
    letStandinsDo,
    discard: (actId: string) => queue.discard(actId),
    again: async (actId: string) => {
      await queue.again(actId)
      await flush()
    },
    setSpeed,
    setFault,
    putBack,
    prove,
    secret,
  }
})
