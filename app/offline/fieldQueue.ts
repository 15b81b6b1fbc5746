/**
 * Field work on its way to the server: ticks and evidence, in the order in which they were done,
 * each kept until it is acknowledged.
 */

import type { PhotographType } from '@mast/api'
import type { Drill } from '@mast/core/uplinks'

interface Common {
  readonly id: string
  readonly siteId: string
  /** When it was done, ISO 8601. */
  readonly at: string
  /** Whether it was sent: the server may have it, also where no answer came. */
  readonly tried: boolean
  /** Why the server did not take it, once it said so. */
  readonly refused: string | null
}
export type Act =
  | (Common & {
      readonly kind: 'tick'
      readonly stepId: string
      readonly acknowledged: boolean
      readonly note: string
      /** What the step said (`saysOf`); acts that an earlier version kept do not know. */
      readonly said?: string
      /** How long its wait lasts on the clock of this person. */ readonly waitMs: number
    })
  | (Common & { readonly kind: 'untick'; readonly stepId: string })
  | (Common & {
      readonly kind: 'evidence'
      readonly what: 'photo' | 'picture' | 'reading' | 'note' | 'drill'
      /** Of a failover that was tried; acts that an earlier version kept have none. */
      readonly drill?: Drill | null
      readonly stepId: string | null
      readonly text: string
      /** Base64. */ readonly file: string | null
      readonly mediaType: PhotographType | null
    })

export interface ActKeep {
  load(siteId: string): Promise<Act[]>
  put(act: Act): Promise<void>
  remove(id: string): Promise<void>
}
export type SendAct = (act: Act) => Promise<unknown>

const isAway = (error: unknown): boolean => {
  const { status } = error as { status?: number }
  return status === undefined || status === 429 || status === 401 || status >= 500
}

export class FieldQueue {
  acts: Act[] = []
  /** Acts that this browser could not keep: they live only as long as the page. */
  readonly unkept = new Set<string>()
  private busy = false
  constructor(
    private readonly keep: ActKeep,
    private readonly sendAct: SendAct,
    private readonly changed: () => void,
  ) {}

  async load(siteId: string): Promise<void> {
    this.unkept.clear()
    this.acts = await this.keep.load(siteId).catch(() => [])
    this.changed()
  }

  /**
   * Takes an act on. A tick and its taking back cancel each other where the server cannot have the
   * tick.
   */
  async add(act: Act): Promise<void> {
    if (act.kind === 'untick') {
      const tick = this.acts.find((a) => a.kind === 'tick' && a.stepId === act.stepId)
      if (tick) await this.discard(tick.id)
      if (tick && (!tick.tried || tick.refused !== null)) return
    }
    this.acts = [...this.acts, act]
    this.changed()
    await this.put(act)
    await this.flush()
  }

  async discard(id: string): Promise<void> {
    this.acts = this.acts.filter((a) => a.id !== id)
    this.changed()
    await this.remove(id)
  }

  private async put(act: Act): Promise<void> {
    try {
      await this.keep.put(act)
      this.unkept.delete(act.id)
    } catch {
      this.unkept.add(act.id)
    }
    this.changed()
  }
  private async remove(id: string): Promise<void> {
    this.unkept.delete(id)
    await this.keep.remove(id).catch(() => {})
  }
  private async replace(act: Act): Promise<void> {
    // It may have been discarded while it was under way.
    if (!this.acts.some((a) => a.id === act.id)) return
    this.acts = this.acts.map((a) => (a.id === act.id ? act : a))
    await this.put(act)
  }

  /** Asks the server again for what it refused. */
  async again(id: string): Promise<void> {
    this.acts = this.acts.map((a) => (a.id === id ? { ...a, refused: null } : a))
    await this.flush()
  }

  /**
   * Sends in order until nothing is left or the server is away. What it refuses stays, with its
   * reason. Gives whether all was heard.
   */
  async flush(): Promise<boolean> {
    if (this.busy) return false
    this.busy = true
    try {
      for (let next = this.next(); next; next = this.next()) {
        const act = { ...next, tried: true }
        if (!next.tried) await this.replace(act)
        if (!this.acts.some((a) => a.id === act.id)) continue
        try {
          await this.sendAct(act)
          this.acts = this.acts.filter((a) => a.id !== act.id)
          await this.remove(act.id)
        } catch (error) {
          if (isAway(error)) return false
          await this.replace({
            ...act,
            refused:
              (error as { data?: { message?: string } }).data?.message ??
              'The server refused this.',
          })
        }
        this.changed()
      }
      return true
    } finally {
      this.busy = false
    }
  }
  private next(): Act | undefined {
    return this.acts.find((a) => a.refused === null)
  }
}
