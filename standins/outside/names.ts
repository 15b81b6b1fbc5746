/** Who knows names outside: where each leads, for how long that may be kept, and who changed it. */
import type { EventQueue } from '../clock/eventQueue'

export interface NameRecord {
  readonly address: number
  readonly ttlSeconds: number
}

const USUAL_TTL_SECONDS = 3600

export class Names {
  private readonly records = new Map<string, NameRecord>()
  /** Takes no change any more, as where a key ran out. */
  isStuck = false

  lookup(name: string): NameRecord | undefined {
    return this.records.get(name.toLowerCase())
  }
  /** As somebody typed it in. */
  register(name: string, address: number, ttlSeconds = USUAL_TTL_SECONDS): void {
    this.records.set(name.toLowerCase(), { address, ttlSeconds })
  }
  /** Gives whether it was taken; a name that nobody registered is none of ours. */
  update(name: string, address: number, ttlSeconds: number): boolean {
    if (this.isStuck || !this.records.has(name.toLowerCase())) return false
    this.register(name, address, ttlSeconds)
    return true
  }
}

/** What somebody remembers of names, as long as he may. */
export class NameMemory {
  private readonly known = new Map<string, { address: number; until: number }>()

  constructor(
    private readonly queue: EventQueue,
    private readonly names: Names,
  ) {}

  find(name: string): number | null {
    const mine = this.known.get(name)
    if (mine && mine.until > this.queue.now) return mine.address
    const record = this.names.lookup(name)
    if (!record) return null
    this.known.set(name, {
      address: record.address,
      until: this.queue.now + record.ttlSeconds,
    })
    return record.address
  }
}
