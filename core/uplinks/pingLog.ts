/**
 * What `ping` wrote while a line was away, whatever its language and however it was cut: an answer
 * is told by its TTL (RFC 792 knows no word for it, every program prints it), what was lost by the
 * numbers that are missing, by lines without an answer, and by the times, where they were printed.
 */

export interface PingGap {
  /** The line of the log with the first answer after it, from 1; null where none came any more. */
  readonly line: number | null
  /** Without an answer, s; give or take one interval. */
  readonly seconds: number
  readonly lost: number
}
export interface PingLog {
  readonly answers: number
  /** The longest first. */
  readonly gaps: readonly PingGap[]
  /** What could not be taken as it stands, in words. */
  readonly remarks: readonly string[]
}

/** Longer logs are read to here. */
const MOST_CHARACTERS = 20_000_000
const ANSWER = /\bttl\s*[=:]?\s*\d+/i
const SEQUENCE = /(?:icmp_)?seq(?:uence)?\s*[=:]?\s*(\d+)/i
const EPOCH = /\[(\d{9,10}(?:\.\d+)?)\]/
const CLOCK = /\b(?:(\d{4})-(\d\d)-(\d\d)[T ])?(\d\d?):(\d\d):(\d\d(?:[.,]\d+)?)/

/** Seconds of some day, and whether the day is in it. */
function timeOf(line: string): { seconds: number; isWhole: boolean } | null {
  const epoch = EPOCH.exec(line)
  if (epoch) return { seconds: Number(epoch[1]), isWhole: true }
  const m = CLOCK.exec(line)
  if (!m) return null
  const inDay = Number(m[4]) * 3600 + Number(m[5]) * 60 + Number(m[6]!.replace(',', '.'))
  return m[1]
    ? {
        seconds: Date.UTC(Number(m[1]), Number(m[2]) - 1, Number(m[3])) / 1000 + inDay,
        isWhole: true,
      }
    : { seconds: inDay, isWhole: false }
}

interface Seen {
  readonly line: number
  readonly sequence: number | null
  readonly seconds: number | null
  /** Lines without an answer since the answer before. */
  readonly silent: number
}

/** @param intervalSeconds how often it asked, where no times are printed; 1 s is usual */
export function readPingLog(text: string, intervalSeconds = 1): PingLog {
  const remarks = new Set<string>()
  if (text.length > MOST_CHARACTERS) remarks.add('only the first 20 MB of the log were read')
  const seen: Seen[] = []
  let silent = 0
  let day = 0
  let before: number | null = null
  let jumps = false
  const lines = text.slice(0, MOST_CHARACTERS).split(/\r\n|\r|\n/)
  for (const [n, line] of lines.entries()) {
    // Statistics come after the last answer.
    if (/^\s*-{3}/.test(line)) break
    if (!ANSWER.test(line)) {
      // The last line may be cut; an empty one, and what stands before the first answer, is none.
      if (line.trim() !== '' && seen.length > 0 && n < lines.length - 1) silent++
      continue
    }
    const time = timeOf(line)
    let seconds = time && time.seconds + day
    if (time && seconds !== null && before !== null && seconds < before) {
      // Midnight, where only the time of day is printed; else somebody set the clock.
      if (!time.isWhole && before - seconds > 43_200) {
        day += 86_400
        seconds += 86_400
      } else jumps = true
    }
    if (seconds !== null) before = seconds
    const sequence = SEQUENCE.exec(line)
    seen.push({ line: n + 1, sequence: sequence ? Number(sequence[1]) : null, seconds, silent })
    silent = 0
  }
  if (jumps) remarks.add('its clock jumps, so that it was counted by numbers and lines')
  if (seen.length === 0) remarks.add('there is no answer in it; expected is what ping prints')
  const gaps: PingGap[] = []
  for (const [i, now] of seen.entries()) {
    const last = seen[i - 1]
    if (!last) continue
    const lost = Math.max(now.silent, missing(last.sequence, now.sequence))
    if (lost === 0) continue
    const timed =
      !jumps && now.seconds !== null && last.seconds !== null
        ? now.seconds - last.seconds - intervalSeconds
        : null
    gaps.push({ line: now.line, lost, seconds: Math.max(0, timed ?? lost * intervalSeconds) })
  }
  if (silent > 0 && seen.length > 0)
    gaps.push({ line: null, lost: silent, seconds: silent * intervalSeconds })
  return {
    answers: seen.length,
    gaps: gaps.sort((a, b) => b.seconds - a.seconds),
    remarks: [...remarks],
  }
}

/** Numbers between two; they begin again after 65535 (RFC 792). */
function missing(a: number | null, b: number | null): number {
  if (a === null || b === null) return 0
  const step = (b - a + 65_536) % 65_536
  // Far back is a second run in the same file, or one that was answered late.
  return step === 0 || step > 60_000 ? 0 : step - 1
}
