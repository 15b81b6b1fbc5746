/**
 * What happens in the field: devices, steps, evidence, the stand-ins, the proof. Follows the
 * server's notices; works on without them.
 */
import type { FieldFacts, FieldFinding } from '@mast/core/field'
import type { Drill } from '@mast/core/uplinks'
import { saysOf, type Step } from '@mast/core/bringup'
import { shareUnchanged } from '@mast/core/plan'
import { analyst } from '~/workers/analyst'
import { answered, browserActs } from '~/offline/browserStore'
import { FieldQueue, type Act } from '~/offline/fieldQueue'
import type { ReleasePreview } from '@mast/core/release'
import type { Fault, Snapshot } from '@mast/standins/control'
import * as api from '@mast/api'
import type {
  Asked,
  Backup,
  ChangeClient,
  ClientOnAir,
  ClientSpan,
  DeviceCommand,
  DeviceEvent,
  Endpoint,
  EvidenceLine,
  EvidenceToSend,
  ForeignDevice,
  NoticeName,
  PhotographType,
  Proof,
  Releases,
  Reply,
  RollDevice,
  StepDone,
} from '@mast/api'
import type { z } from 'zod'

/** A step done; of one that is not on the server yet, with the reason where it refused. */
export interface StepShown extends StepDone {
  readonly unsent?: { readonly actId: string; readonly refused: string | null }
}
export interface EvidenceShown extends EvidenceLine {
  readonly unsent?: { readonly refused: string | null; readonly picture: string | null }
}

const RETRY_MS = 3000
/** Working out a large release takes its time. */
const PREVIEW_TIMEOUT_MS = 60_000
/** Virtual time of an outage and its return, hurried. */
const DRILL_TIMEOUT_MS = 180_000

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
  const kept = shallowRef<readonly Backup[]>([])
  const clients = shallowRef<readonly ClientOnAir[]>([])
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
  const findings = shallowRef<readonly FieldFinding[]>([])
  /** Steps that were done and that say something else since the plan changed. */
  const outdated = shallowRef<readonly string[]>([])
  /** Worked out where the plan is analysed; null while there is nothing to say anything of. */
  const facts = computed<FieldFacts | null>(() =>
    site.plan && loaded.value
      ? {
          devices: devices.value.map((d) => ({
            ...d,
            lastHeardMs: d.lastHeardAt ? ms(d.lastHeardAt) : null,
            changedMs: ms(d.changedAt),
          })),
          foreign: foreign.value,
          steps: steps.value.map((s) => ({
            stepId: s.stepId,
            doneMs: ms(s.doneAt),
            readyMs: ms(s.readyAt),
            said: s.said,
          })),
          backups: backups.value,
          clients: clients.value,
          drills: drills.value,
          nowMs: clock.value.getTime(),
          clockSpeed: standins.value?.speed ?? 1,
        }
      : null,
  )
  watchLatest(
    () => [site.stale ? null : site.analysis, facts.value] as const,
    async ([analysis, now], isLast) => {
      if (!now) {
        findings.value = []
        outdated.value = []
      }
      if (!now || !analysis) return
      const found = await analyst().field(now)
      if (!isLast()) return
      findings.value = shareUnchanged(findings.value, found.findings)
      outdated.value = shareUnchanged(outdated.value, found.outdated)
    },
  )

  /** What a route of the open site is asked, beside which site it is. */
  type Of<E extends Endpoint> = Omit<Asked<E>, 'params'> &
    (E['params'] extends object
      ? { readonly params: { readonly [N in keyof E['params']]: string | number } }
      : { readonly params?: undefined })
  const asked = <E extends Endpoint>(of: Of<E>, siteId: string): Asked<E> =>
    ({ ...of, params: { ...of.params, site: siteId } }) as unknown as Asked<E>
  const tell = <E extends Endpoint>(e: E, of: Of<E>, siteId = site.opened.id): Promise<Reply<E>> =>
    ask(e, asked(of, siteId))
  /** What is kept here where the server does not answer. */
  const read = <E extends Endpoint>(e: E): Promise<Reply<E>> => {
    const what = asked<E>({} as Of<E>, site.opened.id)
    return answered(e, what, () => ask(e, what, { timeoutMs: READ_TIMEOUT_MS }))
  }

  const asDone = (a: Extract<Act, { kind: 'tick' }>): StepShown => ({
    stepId: a.stepId,
    doneAt: a.at,
    readyAt: new Date(new Date(a.at).getTime() + a.waitMs).toISOString(),
    by: session.account?.name ?? null,
    note: a.note,
    said: a.said ?? null,
  })
  /** Steps as they are with what is done here and not sent yet. */
  const steps = computed<StepShown[]>(() => {
    const taken = new Set(
      acts.value.flatMap((a) => (a.kind === 'untick' && a.refused === null ? [a.stepId] : [])),
    )
    // Done again since the plan changed: what is known of it here is newer.
    const again = new Map(
      acts.value.flatMap((a) =>
        a.kind === 'tick' && a.refused === null ? [[a.stepId, a.said ?? null]] : [],
      ),
    )
    const kept = sentSteps.value.filter(
      (s) => !taken.has(s.stepId) && (again.get(s.stepId) ?? s.said) === s.said,
    )
    const there = new Set(kept.map((s) => s.stepId))
    const own = acts.value.flatMap((a): StepShown[] =>
      a.kind === 'tick' && !there.has(a.stepId)
        ? [{ ...asDone(a), unsent: { actId: a.id, refused: a.refused } }]
        : [],
    )
    return [...kept, ...own]
  })
  /** Steps that are done, as the plan says now. */
  const done = computed<ReadonlyMap<string, StepShown>>(() => {
    const open = new Set(outdated.value)
    return new Map(steps.value.flatMap((s) => (open.has(s.stepId) ? [] : [[s.stepId, s]])))
  })
  const evidence = computed<EvidenceShown[]>(() => [
    ...acts.value.flatMap((a): EvidenceShown[] =>
      a.kind === 'evidence'
        ? [
            {
              id: a.id,
              kind: a.what,
              at: a.at,
              who: session.account?.name ?? null,
              revision: site.revision,
              stepId: a.stepId,
              body: { text: a.text, ...(a.drill ? { drill: a.drill } : {}) },
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
  /** Failovers that were tried, the newest first. */
  const backups = computed<FieldFacts['backups']>(() => {
    const newest = new Map<string, FieldFacts['backups'][number]>()
    for (const { kind, at, body } of evidence.value) {
      if (kind !== 'backup' || !body.deviceId || !body.digest) continue
      const atMs = ms(at)
      if (atMs >= (newest.get(body.deviceId)?.atMs ?? 0))
        newest.set(body.deviceId, { deviceId: body.deviceId, digest: body.digest, atMs })
    }
    for (const { deviceId, digest, at } of kept.value) {
      const atMs = ms(at)
      if (atMs >= (newest.get(deviceId)?.atMs ?? 0))
        newest.set(deviceId, { deviceId, digest, atMs })
    }
    return [...newest.values()]
  })
  const drills = computed<Drill[]>(() => evidence.value.flatMap((e) => e.body.drill ?? []))
  const send = async (act: Act): Promise<void> => {
    const { siteId, at } = act
    if (act.kind === 'tick')
      await tell(
        api.tickStep,
        {
          params: { step: act.stepId },
          body: {
            by: 'person',
            acknowledged: act.acknowledged,
            note: act.note,
            at,
            said: act.said ?? null,
          },
        },
        siteId,
      )
    else if (act.kind === 'untick')
      await tell(api.untickStep, { params: { step: act.stepId } }, siteId)
    else await tell(api.keepEvidence, { body: evidenceOf(act) }, siteId)
  }
  const evidenceOf = (a: Extract<Act, { kind: 'evidence' }>): EvidenceToSend => {
    const base = { id: a.id, at: a.at, stepId: a.stepId, text: a.text }
    if (a.what === 'photo' || a.what === 'picture')
      return { ...base, kind: a.what, file: a.file!, mediaType: a.mediaType! }
    return a.what === 'drill'
      ? { ...base, kind: a.what, drill: a.drill! }
      : { ...base, kind: a.what }
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
  /** The reading of the whole roll that was begun last. */
  let whole: Promise<void> = Promise.resolve()
  function readDevices(): Promise<void> {
    const reading = async (): Promise<void> => {
      const reply = await read(api.readRoll)
      devices.value = reply.devices
      foreign.value = reply.foreign
      events.value = reply.events
    }
    whole = reading()
    return whole
  }
  /** Devices of which it was told that they changed and whose rows were not read since. */
  const told = new Set<string>()
  let readsRows = false
  async function readRows(): Promise<void> {
    if (readsRows) return
    readsRows = true
    try {
      while (told.size > 0) {
        // What is under way began before and must not come after.
        await whole.catch(() => {})
        const ids = [...told]
        told.clear()
        const known = new Set(devices.value.map((d) => d.deviceId))
        if (ids.length > api.MOST_ROWS || !ids.every((d) => known.has(d))) await readDevices()
        else await readThese(ids)
      }
    } catch {
      // The next reading of all has them.
    } finally {
      readsRows = false
    }
  }
  async function readThese(ids: readonly string[]): Promise<void> {
    const of = site.id
    const reply = await tell(api.readRoll, { query: { only: ids.join(',') } })
    if (site.id !== of || followed !== of) return
    const rows = new Map(reply.devices.map((d) => [d.deviceId, d]))
    devices.value = devices.value.map((d) => rows.get(d.deviceId) ?? d)
    foreign.value = reply.foreign
    events.value = reply.events
  }
  const readSteps = async (): Promise<void> => {
    sentSteps.value = await read(api.readSteps)
  }
  const readEvidence = async (): Promise<void> => {
    sentEvidence.value = await read(api.readEvidence)
  }
  const readProof = async (): Promise<void> => {
    proof.value = (await read(api.readProof)).proof
  }
  const readStandins = async (): Promise<void> => {
    const reply = await ask(
      api.readStandins,
      { params: { site: site.opened.id } },
      { timeoutMs: READ_TIMEOUT_MS },
    ).catch(() => null)
    standins.value = reply?.standins ?? null
  }
  const readReleases = async (): Promise<void> => {
    releases.value = await read(api.readReleases)
  }

  async function follow(): Promise<void> {
    if (followed === site.id) return
    unfollow()
    followed = site.id
    const opened = new EventSource(api.pathOf(api.followSite, { params: { site: site.opened.id } }))
    stream = opened
    const on = <N extends NoticeName>(
      name: N,
      then: (what: z.output<(typeof api.notices)[N]>) => void,
    ): void =>
      opened.addEventListener(name, (e) => {
        const what = api.notices[name].safeParse(JSON.parse((e as MessageEvent<string>).data))
        if (what.success) then(what.data as z.output<(typeof api.notices)[N]>)
      })
    stream.addEventListener('open', () => {
      live.value = true
      void readAll()
      site.heard(null)
      void flush()
    })
    stream.addEventListener('error', () => {
      live.value = false
    })
    on('now', (now) => site.compare(now))
    on('plan', ({ revision }) => {
      site.heard(revision)
      void readDevices()
    })
    on('devices', ({ device }) => {
      if (device === null) void readDevices()
      else {
        told.add(device)
        void readRows()
      }
      if (releases.value?.underWay.length) void readReleases()
    })
    on('releases', () => {
      void readReleases()
      void readDevices()
    })
    on('steps', () => void readSteps())
    on('evidence', () => {
      void readProof()
      void readEvidence()
    })
    on('standins', () => void readStandins())
    on('ended', () => void streamEnded())
    await queue.load(site.opened.id)
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
      readBackups(),
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
    told.clear()
    clients.value = []
    kept.value = []
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
      const reply = await tell(api.claimDevice, { params: { device: deviceId }, body: { serial } })
      notSent = reply.notSent
      await readDevices()
    })
    return (
      refused ??
      (notSent === null ? undefined : `It is claimed. Nothing was sent to it yet: ${notSent}`)
    )
  }
  /** Several, in parts of what one request takes; counts are of the whole. */
  async function claimAll(
    claims: readonly { readonly deviceId: string; readonly serial: string }[],
  ): Promise<Reply<typeof api.claimDevices> & { readonly failed: string | null }> {
    const whole: Reply<typeof api.claimDevices> & { failed: string | null } = {
      ...{ before: 0, after: 0, claimed: [], refused: [], notSent: null, failed: null },
    }
    for (let at = 0; at < claims.length && whole.failed === null; at += api.MOST_CLAIMS)
      try {
        const part = await tell(api.claimDevices, {
          body: { claims: claims.slice(at, at + api.MOST_CLAIMS) },
        })
        if (at === 0) whole.before = part.before
        whole.after = part.after
        whole.claimed.push(...part.claimed)
        whole.refused.push(...part.refused)
        whole.notSent = part.notSent ?? whole.notSent
      } catch (error) {
        whole.failed = errorText(error)
      }
    await readDevices().catch(() => {})
    return whole
  }
  /** What sending the plan would do, or why that cannot be said. */
  const previewRelease = async (revision: number): Promise<ReleasePreview | string> => {
    try {
      return await ask(
        api.previewRelease,
        { params: { site: site.opened.id }, query: { revision } },
        { timeoutMs: PREVIEW_TIMEOUT_MS },
      )
    } catch (error) {
      return errorText(error)
    }
  }
  const sendRelease = (revision: number, note: string, goesOver: boolean) =>
    attempt(async () => {
      await tell(api.sendRelease, { body: { revision, note, goesOver } })
      await Promise.all([readReleases(), readDevices()])
    })
  const stopRelease = (number: number) =>
    attempt(async () => {
      await tell(api.stopRelease, { params: { number } })
      await readReleases()
    })
  const giveUp = (deviceId: string) =>
    attempt(async () => {
      await tell(api.giveUpDevice, { params: { device: deviceId } })
      await readDevices()
    })
  const command = (deviceId: string, what: DeviceCommand) =>
    attempt(() =>
      tell(api.commandDevice, { params: { device: deviceId }, body: { command: what } }),
    )
  async function readBackups(): Promise<void> {
    kept.value = shareUnchanged(kept.value, (await read(api.readBackups)).backups)
  }
  async function readClients(): Promise<void> {
    clients.value = shareUnchanged(clients.value, (await read(api.readClients)).clients)
  }
  const clientTraffic = async (client: string): Promise<readonly ClientSpan[]> =>
    (await tell(api.readClientTraffic, { params: { client } })).spans
  /** Gives why it could not be done. */
  const changeClient = (client: string, body: ChangeClient) =>
    attempt(async () => {
      await tell(api.changeClient, { params: { client }, body })
      await readClients()
    })
  const now = (): { id: string; siteId: string; at: string; tried: false; refused: null } => ({
    id: crypto.randomUUID(),
    siteId: site.opened.id,
    at: new Date().toISOString(),
    tried: false,
    refused: null,
  })
  /**
   * Ticks a step, here first. Gives the server's reason where it refused at once; the tick then
   * does not stand.
   */
  async function tick(step: Step, acknowledged: boolean, note = ''): Promise<string | undefined> {
    const act: Act = {
      ...now(),
      kind: 'tick',
      stepId: step.id,
      acknowledged,
      note,
      said: saysOf(step),
      waitMs: (step.waitSeconds * 1000) / (standins.value?.speed ?? 1),
    }
    await queue.add(act)
    void flush()
    const refused = queue.acts.find((a) => a.id === act.id)?.refused
    if (refused) await queue.discard(act.id)
    await readSteps().catch(() => {})
    return refused ?? undefined
  }
  /** Takes a tick back. Gives the server's reason where it refused at once; the tick then stands. */
  async function untick(stepId: string): Promise<string | undefined> {
    const act: Act = { ...now(), kind: 'untick', stepId }
    await queue.add(act)
    void flush()
    const refused = queue.acts.find((a) => a.id === act.id)?.refused
    if (refused) await queue.discard(act.id)
    await readSteps().catch(() => {})
    return refused ?? undefined
  }
  /** @returns what it is kept as */
  const keepEvidence = async (
    what: 'photo' | 'picture' | 'reading' | 'note',
    stepId: string | null,
    text: string,
    picture: { file: string; mediaType: PhotographType } | null,
  ): Promise<string> => {
    const moment = now()
    await queue.add({
      ...moment,
      kind: 'evidence',
      what,
      stepId,
      text,
      file: picture?.file ?? null,
      mediaType: picture?.mediaType ?? null,
    })
    void flush()
    await readEvidence().catch(() => {})
    return moment.id
  }
  /** A failover that somebody tried and measured. */
  async function keepDrill(drill: Drill, text: string): Promise<void> {
    await queue.add({
      ...now(),
      kind: 'evidence',
      what: 'drill',
      stepId: 'failover',
      text,
      file: null,
      mediaType: null,
      drill,
    })
    void flush()
    await readEvidence().catch(() => {})
  }
  /** Lets the stand-ins try it; that needs the server. */
  const runDrill = (body: Asked<typeof api.runDrill>['body']) =>
    attempt(async () => {
      await ask(
        api.runDrill,
        { params: { site: site.opened.id }, body },
        { timeoutMs: DRILL_TIMEOUT_MS },
      )
      await Promise.all([readEvidence(), readStandins()])
    })
  /** Lets the stand-ins do a step; that needs the server. */
  const letStandinsDo = (stepId: string, acknowledged: boolean, note = '') =>
    attempt(async () => {
      await tell(api.tickStep, {
        params: { step: stepId },
        body: { by: 'standins', acknowledged, note },
      })
      await Promise.all([readSteps(), readStandins()])
    })
  const setSpeed = (speed: number) =>
    attempt(async () => {
      standins.value = (await tell(api.setSpeed, { body: { speed } })).standins
    })
  const setFault = (fault: Fault, on: boolean) =>
    attempt(async () => {
      await tell(api.setFault, { body: { fault, on } })
      await readStandins()
    })
  const putBack = () =>
    attempt(async () => {
      await tell(api.putStandinsBack, {})
      await readAll()
    })
  const prove = (only: string[] | null) =>
    attempt(async () => {
      proof.value = (await tell(api.runProof, { body: { only } })).proof
    })
  const secret = async (ref: string): Promise<string> =>
    (await tell(api.readSecret, { params: { ref } })).secret

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
    done,
    outdated,
    evidence,
    acts,
    unkept,
    kept,
    readBackups,
    clients,
    readClients,
    clientTraffic,
    changeClient,
    standins,
    proof,
    live,
    loaded,
    follow,
    unfollow,
    readStandins,
    readDevices,
    claim,
    claimAll,
    giveUp,
    command,
    tick,
    untick,
    keepEvidence,
    drills,
    keepDrill,
    runDrill,
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
