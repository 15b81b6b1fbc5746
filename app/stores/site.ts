/** The open site: its plan with undo and redo, and its saving. Edits take effect at once and are sent behind. */
import { applyEdit, doEdit, emptyHistory, redo, runPatches, undo, type EditCall, type History, type HistoryOutcome, type SitePlan } from '@mast/core/plan'
import { siteModel, type SiteModel } from '@mast/core/topology'

type Change = { kind: 'edit'; name: string; args: unknown } | { kind: 'patches'; summary: string; patches: unknown[] }
export type SaveState = 'saved' | 'pending' | 'saving' | 'unreachable' | 'conflict'
export interface RevisionLine { readonly number: number; readonly summary: string; readonly author: string | null; readonly at: string }
interface SiteReply { id: string; role: string; revision: number; plan: SitePlan; revisions: RevisionLine[] }

const RETRY_MS = 3000

export const useSite = defineStore('site', () => {
  const id = ref<string | null>(null)
  const role = ref('viewer')
  const revision = ref(0)
  const plan = shallowRef<SitePlan | null>(null)
  const revisions = ref<RevisionLine[]>([])
  const history = shallowRef<History>(emptyHistory)
  const saveState = ref<SaveState>('saved')
  const complaint = ref<string | null>(null)
  /** What is selected on the sheet, and what a finding points at. */
  const selected = ref<string | null>(null)
  const pointed = ref<readonly string[]>([])
  const model = computed<SiteModel | null>(() => (plan.value ? siteModel(plan.value) : null))
  const { analysis, stale } = useAnalysis(plan)
  const session = useSession()
  let pending: Change[] = []
  let sending = false

  async function open(siteId: string): Promise<void> {
    if (id.value === siteId && plan.value) return
    close()
    const reply = await $fetch<SiteReply>(`/api/sites/${siteId}`)
    id.value = siteId
    take(reply)
  }
  function close(): void {
    id.value = null
    plan.value = null
    history.value = emptyHistory
    pending = []
    saveState.value = 'saved'
    complaint.value = null
    selected.value = null
    pointed.value = []
  }
  function take(reply: SiteReply): void {
    plan.value = reply.plan
    revision.value = reply.revision
    revisions.value = reply.revisions
    role.value = reply.role
  }

  function settle(result: HistoryOutcome | undefined, change: (r: HistoryOutcome) => Change): string | undefined {
    if (!result) return undefined
    const { outcome } = result
    if (!outcome.ok) { complaint.value = outcome.problems[0]!.reason; return outcome.problems[0]!.reason }
    complaint.value = null
    if (outcome.patches.length === 0) return undefined
    plan.value = outcome.plan
    history.value = result.history
    pending.push(change(result))
    saveState.value = 'pending'
    void send()
    return undefined
  }
  /** Applies an edit; gives the reason where it is refused. */
  function edit(name: string, args: unknown): string | undefined {
    if (!plan.value) return 'no site is open'
    return settle(doEdit(plan.value, history.value, { name, args }), () => ({ kind: 'edit', name, args }))
  }
  /** Applies the edits of a fix, one after the other. */
  function mend(edits: readonly EditCall[]): string | undefined {
    for (const e of edits) {
      const reason = edit(e.name, e.args)
      if (reason) return reason
    }
    return undefined
  }
  const asPatches = (r: HistoryOutcome): Change => {
    const { outcome } = r as { outcome: Extract<HistoryOutcome['outcome'], { ok: true }> }
    return { kind: 'patches', summary: outcome.summary, patches: outcome.patches }
  }
  const undoLast = (): string | undefined => (plan.value ? settle(undo(plan.value, history.value), asPatches) : undefined)
  const redoLast = (): string | undefined => (plan.value ? settle(redo(plan.value, history.value), asPatches) : undefined)

  async function send(): Promise<void> {
    if (sending || pending.length === 0 || !id.value) return
    sending = true
    const batch = pending.slice(0, 200)
    const forSite = id.value
    saveState.value = 'saving'
    try {
      const reply = await $fetch<{ revision: number; made: { number: number; summary: string }[] }>(`/api/sites/${forSite}/edits`, { method: 'POST', body: { base: revision.value, changes: batch } })
      if (id.value !== forSite) return
      revision.value = reply.revision
      const at = new Date().toISOString()
      revisions.value = [...reply.made.map((m) => ({ ...m, author: session.account?.name ?? null, at })).reverse(), ...revisions.value].slice(0, 30)
      pending = pending.slice(batch.length)
      saveState.value = pending.length > 0 ? 'pending' : 'saved'
    } catch (error) {
      const status = (error as { status?: number }).status
      if (status === 409) await rebase()
      else if (status === 422 || status === 400) { saveState.value = 'conflict'; complaint.value = `Not saved: ${errorText(error)}` }
      else if (status === 403) { pending = []; complaint.value = errorText(error); await reload() }
      else { saveState.value = 'unreachable'; setTimeout(() => void send(), RETRY_MS) }
    } finally {
      sending = false
    }
    if (pending.length > 0 && (saveState.value === 'pending')) void send()
  }

  async function reload(): Promise<void> {
    if (!id.value) return
    take(await $fetch<SiteReply>(`/api/sites/${id.value}`))
    if (pending.length === 0) saveState.value = 'saved'
  }
  /** Somebody else saved first: takes their plan and does our edits again on top of it. */
  async function rebase(): Promise<void> {
    await reload()
    const kept: Change[] = []
    for (const change of pending) {
      const outcome = change.kind === 'edit' ? applyEdit(plan.value!, change) : runPatches(plan.value!, change.patches as never, change.summary)
      if (!outcome.ok) { complaint.value = `Somebody else changed the same: ${outcome.problems[0]!.reason}`; continue }
      plan.value = outcome.plan
      kept.push(change)
    }
    pending = kept
    history.value = emptyHistory
    saveState.value = pending.length > 0 ? 'pending' : 'saved'
  }
  /** Called when the server says that there is a newer revision. */
  async function heard(newest: number | null): Promise<void> {
    if (newest === null || newest <= revision.value || sending || pending.length > 0) return
    await reload()
    history.value = emptyHistory
  }

  return { id, role, revision, plan, model, revisions, history, saveState, complaint, selected, pointed, analysis, stale, open, close, edit, mend, undoLast, redoLast, reload, heard }
})
