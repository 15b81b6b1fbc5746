/**
 * Years of a site played event by event: things that fail and are mended, tests that are lost, a
 * gateway that counts. It shares nothing with the closed forms, which it is held against. Rounds of
 * tests that cannot change anything are passed over. Where somebody goes back by hand, it is as soon
 * as the line is found good: when else, nobody knows. Where lines share, minutes count by the share
 * of the people that is without a way out.
 */
import TinyQueue from 'tinyqueue'
import type { Failing } from './failing'
import type { WatchedLine } from './watchedLine'
import type { Return } from './times'

const YEAR = 8766 * 3600

export interface YearsPlayed {
  readonly events: number
  /** Minutes without a way out, by year. */
  readonly minutes: readonly number[]
  /** Minutes a year in the mean, by what it waited for. */
  readonly by: {
    readonly noticing: number
    readonly switching: number
    readonly falseSwitches: number
    readonly sharedParts: number
    readonly together: number
  }
  readonly falseSwitchesAYear: number
  /** Back on a line that is still in its burst. */ readonly falseReturnsAYear: number
  /** Left again within ten minutes of coming back, though it works. */ readonly flapsAYear: number
  readonly switchesAYear: number
}
type Why = keyof YearsPlayed['by']

interface Event {
  readonly at: number
  readonly run: () => void
  isOff: boolean
}
interface Thing {
  readonly failing: Failing
  isDown: boolean
  readonly lines: Line[]
}
interface Line {
  readonly is: WatchedLine
  readonly things: Thing[]
  isInBurst: boolean
  isJudgedGood: boolean
  run: number
  /** When it was last taken into use again. */
  backAt: number
  /** Of the people, those that go by it. */
  share: number
  next: Event | null
  readonly phase: number
}

/**
 * @param lines in the order in which they are used
 * @param chance even between 0 and 1
 */
export function playYears(
  lines: readonly WatchedLine[],
  back: Return,
  switchSeconds: number,
  years: number,
  chance: () => number,
): YearsPlayed {
  const queue = new TinyQueue<Event>([], (a, b) => a.at - b.at)
  let now = 0
  let events = 0
  const at = (time: number, run: () => void): Event => {
    const event = { at: time, run, isOff: false }
    queue.push(event)
    return event
  }
  const wait = (mean: number): number => -mean * Math.log(1 - chance())

  const things = new Map<string, Thing>()
  const thing = (failing: Failing): Thing => {
    const known = things.get(failing.id)
    if (known) return known
    const made: Thing = { failing, isDown: false, lines: [] }
    things.set(failing.id, made)
    return made
  }
  const all = lines.map((is): Line => {
    const line: Line = {
      is,
      things: [is.failing, ...is.parts].map(thing),
      isInBurst: false,
      isJudgedGood: true,
      run: 0,
      backAt: -Infinity,
      share: 0,
      next: null,
      phase: is.watch ? chance() * is.watch.intervalSeconds : 0,
    }
    for (const t of line.things) t.lines.push(line)
    return line
  })
  const works = (l: Line): boolean => l.things.every((t) => !t.isDown)

  /** Some of the people that wait until the line to which they go leads anywhere. */
  interface Waiting {
    readonly to: Line
    readonly from: Line
    readonly share: number
    readonly until: number
  }
  let waiting: Waiting[] = []
  let falseSwitches = 0
  let falseReturns = 0
  let flaps = 0
  let switches = 0
  const minutes = new Array<number>(years).fill(0)
  const by: Record<Why, number> = {
    noticing: 0,
    switching: 0,
    falseSwitches: 0,
    sharedParts: 0,
    together: 0,
  }
  /** How many of the people have no way out at this moment, by what they wait for. */
  let without: [Why, number][] = []
  const look = (): [Why, number][] => {
    if (!all.some(works)) {
      const isShared = [...things.values()].some((t) => t.isDown && t.lines.length > 1)
      return [[isShared ? 'sharedParts' : 'together', 1]]
    }
    waiting = waiting.filter((w) => w.until > now)
    const out: [Why, number][] = waiting.map((w) => [
      works(w.from) ? 'falseSwitches' : 'switching',
      w.share,
    ])
    for (const l of all)
      if (l.share > 0 && !works(l)) {
        const still = waiting.reduce((sum, w) => (w.to === l ? sum + w.share : sum), 0)
        if (l.share > still) out.push(['noticing', l.share - still])
      }
    return out
  }
  let since = 0
  /** Whether anything that counts has changed. */
  let isNew = true
  const account = (): void => {
    if (!isNew) return
    isNew = false
    for (const [reason, share] of without) {
      by[reason] += (now - since) * share
      // An outage over the turn of a year belongs to both.
      for (let from = since; from < now;) {
        const year = Math.floor(from / YEAR)
        const to = Math.min(now, (year + 1) * YEAR)
        if (year < years) minutes[year]! += ((to - from) / 60) * share
        from = to === from ? now : to
      }
    }
    since = now
    without = look()
  }

  /** Everybody goes by the lines of the lowest order of which one is taken for good. */
  const choose = (): void => {
    const good = all.filter((l) => l.isJudgedGood)
    if (good.length === 0) return
    const order = Math.min(...good.map((l) => l.is.order))
    const used = good.filter((l) => l.is.order === order)
    const weights = used.reduce((sum, l) => sum + l.is.weight, 0)
    const wanted = (l: Line): number =>
      !used.includes(l) ? 0 : weights === 0 ? 1 / used.length : l.is.weight / weights
    for (const left of all) {
      if (left.share === 0 || left.isJudgedGood) continue
      switches++
      // Whoever waited for it waits for another now.
      waiting = waiting.filter((w) => w.to !== left)
      for (const to of used) {
        const share = left.share * wanted(to)
        const until = now + switchSeconds + (to.share > 0 ? 0 : to.is.coldSeconds)
        if (share === 0) continue
        waiting.push({ to, from: left, share, until })
        at(until, () => (isNew = true))
      }
    }
    // What goes by another line of its own accord, back or to share, loses nothing.
    for (const l of all) l.share = wanted(l)
    waiting = waiting.filter((w) => w.to.share > 0)
    isNew = true
  }
  choose()
  const judge = (l: Line, isGood: boolean): void => {
    l.isJudgedGood = isGood
    l.run = 0
    if (isGood) {
      l.backAt = now
      if (works(l) && l.isInBurst) falseReturns++
    } else if (l.share > 0 && works(l)) {
      falseSwitches++
      if (now - l.backAt <= 600) flaps++
    }
    choose()
  }

  /** Its tests are answered, whether it leads anywhere or not. */
  const isDeaf = (l: Line): boolean => l.is.keepsSignal && l.is.targets === 0
  const lostShare = (l: Line): number =>
    l.isInBurst && l.is.loss.bursts ? l.is.loss.bursts.loss : l.is.loss.usual
  /** One round, test by test. */
  const fails = (l: Line): boolean => {
    const { targets, need } = l.is
    if (targets === 0) return false
    const wanted = need === 'any' ? 1 : need === 'all' ? targets : Math.min(need, targets)
    let answers = 0
    for (let i = 0; i < targets; i++) if (chance() >= lostShare(l)) answers++
    return answers < wanted
  }
  /** How many rounds pass before one fails: drawn at once, for they are many. */
  const chanceToFail = (l: Line): number => {
    const { targets, need } = l.is
    if (targets === 0) return 0
    const wanted = need === 'any' ? 1 : need === 'all' ? targets : Math.min(need, targets)
    const lost = lostShare(l)
    // Counted out over all outcomes of the targets.
    let sum = 0
    for (let outcome = 0; outcome < 1 << targets; outcome++) {
      let answers = 0
      let p = 1
      for (let i = 0; i < targets; i++) {
        const isLost = (outcome >> i) & 1
        if (!isLost) answers++
        p *= isLost ? lost : 1 - lost
      }
      if (answers < wanted) sum += p
    }
    return sum
  }
  const roundsSkipped = (l: Line): number => {
    const p = chanceToFail(l)
    if (p <= 0) return Infinity
    return p >= 1 ? 0 : Math.floor(Math.log(1 - chance()) / Math.log(1 - p))
  }
  /** Sets the next round that can change anything. */
  const plan = (l: Line): void => {
    if (l.next) l.next.isOff = true
    l.next = null
    const { watch } = l.is
    if (!watch) return
    // A sum of intervals is not exact: one that has just been is not the next.
    const been = Math.floor((now - l.phase) / watch.intervalSeconds + 1e-6)
    const nextRound = (been + 1) * watch.intervalSeconds + l.phase
    const alive = works(l)
    if (!alive && (!l.isJudgedGood || isDeaf(l))) return
    const isCalm = alive && l.isJudgedGood && l.run === 0
    const skip = isCalm ? roundsSkipped(l) : 0
    if (!Number.isFinite(skip)) return
    l.next = at(nextRound + skip * watch.intervalSeconds, () => round(l, isCalm))
  }
  const round = (l: Line, isKnownToFail: boolean): void => {
    const { watch } = l.is
    l.next = null
    const failed = (!works(l) && !isDeaf(l)) || isKnownToFail || fails(l)
    if (failed === l.isJudgedGood) l.run++
    else l.run = 0
    const quiet = back.kind === 'after-quiet' ? back.seconds / watch!.intervalSeconds : 0
    if (l.isJudgedGood && l.run >= watch!.failures) {
      // Known only when no answer came.
      at(now + watch!.answerSeconds, () => {
        if (!l.isJudgedGood || l.run < watch!.failures) return
        judge(l, false)
        plan(l)
      })
    } else if (!l.isJudgedGood && l.run >= watch!.successes + quiet) judge(l, true)
    plan(l)
  }
  const turn = (t: Thing, isDown: boolean): void => {
    t.isDown = isDown
    isNew = true
    for (const l of t.lines) {
      const { watch, keepsSignal } = l.is
      if (isDown && !keepsSignal && watch?.linkLoss !== 'counted' && l.isJudgedGood) judge(l, false)
      else if (!isDown && !watch && works(l)) judge(l, true)
      plan(l)
    }
  }
  const live = (t: Thing): void => {
    const { timesAYear, hours } = t.failing
    if (timesAYear <= 0 || hours <= 0) return
    at(now + wait(YEAR / timesAYear), () => {
      turn(t, true)
      at(now + wait(hours * 3600), () => {
        turn(t, false)
        live(t)
      })
    })
  }
  const burst = (l: Line): void => {
    const { bursts } = l.is.loss
    if (!bursts) return
    at(now + wait(l.isInBurst ? bursts.lengthSeconds : bursts.apartSeconds), () => {
      l.isInBurst = !l.isInBurst
      plan(l)
      burst(l)
    })
  }
  for (const t of things.values()) live(t)
  for (const l of all) {
    plan(l)
    burst(l)
  }
  const end = years * YEAR
  for (let event = queue.pop(); event && event.at < end; event = queue.pop()) {
    if (event.isOff) continue
    events++
    now = event.at
    event.run()
    account()
  }
  now = end
  isNew = true
  account()
  const perYear = (seconds: number): number => seconds / 60 / years
  return {
    events,
    minutes,
    by: {
      noticing: perYear(by.noticing),
      switching: perYear(by.switching),
      falseSwitches: perYear(by.falseSwitches),
      sharedParts: perYear(by.sharedParts),
      together: perYear(by.together),
    },
    falseSwitchesAYear: falseSwitches / years,
    falseReturnsAYear: falseReturns / years,
    flapsAYear: flaps / years,
    switchesAYear: switches / years,
  }
}
