/**
 * The open site: its plan with undo and redo, its saving, what is in conflict. Edits take effect at
 * once and are sent behind.
 */
import {
  asMine,
  disputed,
  stillDiffers,
  WorkingCopy,
  type Held,
  type Remote,
  type SaveState,
} from '~/offline/workingCopy'
import { readSite, saveChanges, type Base, type RevisionLine } from '@mast/api'
import { browserKeep } from '~/offline/browserStore'
import {
  editCall,
  emptyHistory,
  type EditArgs,
  type EditCall,
  type EditName,
  type History,
  type SitePlan,
} from '@mast/core/plan'
import { siteModel, type SiteModel } from '@mast/core/topology'

const RETRY_MS = 3000
function there<T>(value: T | null): T {
  if (value === null) throw new Error('no site is open')
  return value
}

export const useSite = defineStore('site', () => {
  const id = ref<string | null>(null)
  const role = ref('viewer')
  const revision = ref(0)
  const plan = shallowRef<SitePlan | null>(null)
  const revisions = shallowRef<readonly RevisionLine[]>([])
  const history = shallowRef<History>(emptyHistory)
  const saveState = ref<SaveState>('saved')
  const complaint = ref<string | null>(null)
  const unsaved = ref(0)
  /** How many of them this browser could not keep. */
  const unkept = ref(0)
  const held = shallowRef<readonly Held[]>([])
  /** What is selected on the sheet, and what a finding points at. */
  const selected = ref<string | null>(null)
  const pointed = ref<readonly string[]>([])
  const model = computed<SiteModel | null>(() => (plan.value ? siteModel(plan.value) : null))
  const { analysis, stale } = useAnalysis(plan)
  const session = useSession()
  /** Entities that somebody else and we changed differently. */
  const inDispute = computed(() => disputed(held.value))
  /**
   * The plan as it would be with what is held of ours; the drawings show where it differs from what
   * is saved.
   */
  const minePlan = computed(() =>
    plan.value && held.value.length > 0 ? asMine(plan.value, held.value) : undefined,
  )
  const mineModel = computed(() => (minePlan.value ? siteModel(minePlan.value) : undefined))
  /**
   * What is open, for what stands on a sheet: without an open site no sheet is put up.
   * @throws Error where none is
   */
  const opened = markRaw({
    get id(): string {
      return there(id.value)
    },
    get plan(): SitePlan {
      return there(plan.value)
    },
    get model(): SiteModel {
      return there(model.value)
    },
  })
  let copy: WorkingCopy | undefined
  let retry: ReturnType<typeof setTimeout> | undefined

  const remote: Remote = {
    fetch: (siteId, since) =>
      ask(
        readSite,
        {
          params: { site: siteId },
          query: since ? { since: since.revision, at: since.at ?? undefined } : {},
        },
        { timeoutMs: READ_TIMEOUT_MS },
      ),
    save: (siteId, base, changes) =>
      ask(saveChanges, {
        params: { site: siteId },
        body: { base: base.revision, baseAt: base.at ?? undefined, changes: [...changes] },
      }),
  }

  function mirror(): void {
    if (!copy) return
    plan.value = copy.plan
    revision.value = copy.server.revision
    role.value = copy.server.role
    revisions.value = copy.server.revisions.map((r) =>
      r.author === null ? { ...r, author: session.account?.name ?? null } : r,
    )
    history.value = copy.history
    saveState.value = copy.saveState
    complaint.value = copy.complaint
    unsaved.value = copy.pending.length
    unkept.value = copy.unkept.size
    held.value = copy.held
    clearTimeout(retry)
    if (copy.saveState === 'unreachable') retry = setTimeout(() => void copy?.sync(), RETRY_MS)
  }

  async function open(siteId: string): Promise<void> {
    if (id.value === siteId && plan.value) return
    close()
    id.value = siteId
    const made = await WorkingCopy.open(
      siteId,
      remote,
      browserKeep,
      () => crypto.randomUUID(),
      mirror,
    )
    if (id.value !== siteId) return
    copy = made
    mirror()
    // A held change that meanwhile makes no difference needs no decision.
    for (const h of copy.held) if (!stillDiffers(copy.plan, h)) copy.takeTheirs(h.change.id)
    void copy.sync()
  }
  function close(): void {
    clearTimeout(retry)
    copy = undefined
    id.value = null
    plan.value = null
    history.value = emptyHistory
    saveState.value = 'saved'
    complaint.value = null
    held.value = []
    unsaved.value = 0
    unkept.value = 0
    selected.value = null
    pointed.value = []
  }

  /** Applies an edit; gives the reason where it is refused. */
  const edit = <N extends EditName>(name: N, args: EditArgs[N]): string | undefined =>
    copy ? copy.edit(editCall(name, args) as EditCall) : 'no site is open'
  /** Several edits that belong together: one change, one undo. */
  const mend = (summary: string, edits: readonly EditCall[]): string | undefined =>
    copy?.edits(summary.slice(0, 300), edits)
  const undoLast = (): string | undefined => copy?.undo()
  const redoLast = (): string | undefined => copy?.redo()
  const restore = (older: SitePlan, number: number): string | undefined =>
    copy?.restore(older, number)
  const keepMine = (changeId: string): string | undefined => copy?.keepMine(changeId)
  const takeTheirs = (changeId: string): void => copy?.takeTheirs(changeId)
  /** Called when the server says that there is a newer revision, or may be reached again. */
  const heard = (newest: number | null): void => void copy?.heard(newest ?? 0)
  /** Called with what the server has, when it may be something else than what was heard of. */
  const compare = (now: Base): void => copy?.compare(now)

  return {
    id,
    opened,
    role,
    revision,
    plan,
    model,
    revisions,
    history,
    saveState,
    complaint,
    unsaved,
    unkept,
    held,
    inDispute,
    minePlan,
    mineModel,
    selected,
    pointed,
    analysis,
    stale,
    open,
    close,
    edit,
    mend,
    undoLast,
    redoLast,
    restore,
    keepMine,
    takeTheirs,
    heard,
    compare,
  }
})
