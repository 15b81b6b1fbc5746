/**
 * Keeps the worlds of all sites and writes them to disk, so that a restart of the process is a
 * power cut to the stand-ins, not their end.
 */
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs'
import { join } from 'node:path'
import { World, type ControllerHttp, type Saved } from '../world/world'
import { Factory, type Kept } from '../zeroTouch/factory'
import { worldSchema, type WorldDescription } from './messages'
import type { Sealing } from './seal'
import type { Worlds } from './server'

const SAVE_EVERY_MS = 2000
const MAKER = 'maker.sealed'

export class WorldStore implements Worlds {
  private readonly worlds = new Map<string, World>()
  private readonly timer: NodeJS.Timeout
  readonly factory: Factory

  constructor(
    private readonly folder: string,
    private readonly http: ControllerHttp,
    private readonly complain: (text: string) => void,
    private readonly sealing: Sealing,
    /** Names of controllers on the internet beside this one. */
    private readonly others: readonly string[] = [],
  ) {
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    this.factory = new Factory(this.keptMaker())
    for (const file of readdirSync(folder)) if (file.endsWith('.json')) this.open(file)
    this.timer = setInterval(() => this.saveAll(), SAVE_EVERY_MS)
  }

  private open(file: string): void {
    try {
      const saved = JSON.parse(
        this.sealing.open(readFileSync(join(this.folder, file)), file),
      ) as Saved
      this.worlds.set(file.slice(0, -5), this.revive(saved, worldSchema.parse(saved.description)))
    } catch (error) {
      this.complain(
        `the stand-ins of ${file.slice(0, -5)} could not be read and start anew: ` +
          `${error instanceof Error ? error.message : String(error)}`,
      )
      renameSync(join(this.folder, file), join(this.folder, `${file}.unreadable`))
    }
  }

  /** Beside the worlds: what its devices were made with stays true over a restart. */
  private keptMaker(): Kept {
    const file = join(this.folder, MAKER)
    return {
      read: () => (existsSync(file) ? this.sealing.open(readFileSync(file), MAKER) : null),
      write: (text) => writeFileSync(file, this.sealing.seal(text, MAKER), { mode: 0o600 }),
    }
  }

  get(siteId: string): World | undefined {
    return this.worlds.get(siteId)
  }

  load(siteId: string, description: WorldDescription): World {
    const known = this.worlds.get(siteId)
    // One that stands still is made anew from what it remembers: another plan may be what it needs.
    if (known?.stopped) {
      known.clock.stop()
      return this.put(siteId, this.revive(known.save(), description))
    }
    if (known) {
      try {
        known.update(description)
      } catch (error) {
        known.failed(error)
      }
      return known
    }
    const world = new World(description, this.http, undefined, this.factory, this.others)
    world.clock.start()
    return this.put(siteId, world)
  }

  private put(siteId: string, world: World): World {
    this.worlds.set(siteId, world)
    return world
  }

  private revive(saved: Saved, description: WorldDescription): World {
    const world = new World(description, this.http, saved.speed, this.factory, this.others)
    world.restore(saved)
    world.clock.start()
    return world
  }

  get sites(): string[] {
    return [...this.worlds.keys()]
  }

  drop(siteId: string): void {
    this.worlds.get(siteId)?.clock.stop()
    this.worlds.delete(siteId)
    rmSync(join(this.folder, `${siteId}.json`), { force: true })
  }

  changed(): void {
    this.saveAll()
  }

  saveAll(): void {
    for (const [siteId, world] of this.worlds) {
      const name = `${siteId}.json`
      const file = join(this.folder, name)
      try {
        writeFileSync(`${file}.new`, this.sealing.seal(JSON.stringify(world.save()), name), {
          mode: 0o600,
        })
        renameSync(`${file}.new`, file)
      } catch (error) {
        // A full disk, or one world that cannot be written: the others are all the same, and the
        // next turn tries again.
        this.complain(
          `the stand-ins of ${siteId} could not be kept: ${error instanceof Error ? error.message : String(error)}`,
        )
      }
    }
  }

  close(): void {
    clearInterval(this.timer)
    for (const w of this.worlds.values()) w.clock.stop()
    this.saveAll()
  }
}
