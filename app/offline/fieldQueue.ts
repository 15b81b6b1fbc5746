/** Field work on its way to the server: ticks and evidence, in the order in which they were done, each kept until it is acknowledged. */

interface Common { readonly id: string; readonly siteId: string; /** When it was done, ISO 8601. */ readonly at: string; /** Why the server did not take it, once it said so. */ refused: string | null }
export type Act =
  | Common & { readonly kind: 'tick'; readonly stepId: string; readonly acknowledged: boolean; readonly note: string; /** How long its wait lasts on the clock of this person. */ readonly waitMs: number }
  | Common & { readonly kind: 'untick'; readonly stepId: string }
  | Common & { readonly kind: 'evidence'; readonly what: 'photo' | 'reading' | 'note'; readonly stepId: string | null; readonly text: string; /** Base64. */ readonly file: string | null; readonly mediaType: string | null }

export interface ActKeep { load(siteId: string): Promise<Act[]>; put(act: Act): Promise<void>; remove(id: string): Promise<void> }
export type SendAct = (act: Act) => Promise<unknown>

const isAway = (error: unknown): boolean => {
  const { status } = error as { status?: number }
  return status === undefined || status === 429 || status === 401 || status >= 500
}

export class FieldQueue {
  acts: Act[] = []
  private busy = false
  constructor(private readonly keep: ActKeep, private readonly sendAct: SendAct, private readonly changed: () => void) {}

  async load(siteId: string): Promise<void> {
    this.acts = await this.keep.load(siteId).catch(() => [])
    this.changed()
  }

  /** Takes an act on. A tick and its taking back that were never sent cancel each other. */
  async add(act: Act): Promise<void> {
    if (act.kind === 'untick') {
      const tick = this.acts.find((a) => a.kind === 'tick' && a.stepId === act.stepId)
      if (tick) { await this.discard(tick.id); return }
    }
    this.acts = [...this.acts, act]
    this.changed()
    await this.keep.put(act)
    await this.flush()
  }

  async discard(id: string): Promise<void> {
    this.acts = this.acts.filter((a) => a.id !== id)
    this.changed()
    await this.keep.remove(id)
  }

  /** Asks the server again for what it refused. */
  async again(id: string): Promise<void> {
    this.acts = this.acts.map((a) => (a.id === id ? { ...a, refused: null } : a))
    await this.flush()
  }

  /** Sends in order until nothing is left or the server is away. What it refuses stays, with its reason. Gives whether all was heard. */
  async flush(): Promise<boolean> {
    if (this.busy) return false
    this.busy = true
    try {
      for (let next = this.next(); next; next = this.next()) {
        const act = next
        try {
          await this.sendAct(act)
          this.acts = this.acts.filter((a) => a.id !== act.id)
          await this.keep.remove(act.id)
        } catch (error) {
          if (isAway(error)) return false
          const reason = (error as { data?: { message?: string } }).data?.message ?? 'The server refused this.'
          const refused = { ...act, refused: reason }
          this.acts = this.acts.map((a) => (a.id === act.id ? refused : a))
          await this.keep.put(refused)
        }
        this.changed()
      }
      return true
    } finally {
      this.busy = false
    }
  }
  private next(): Act | undefined { return this.acts.find((a) => a.refused === null) }
}
