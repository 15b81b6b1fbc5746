/**
 * A wave of a release: devices that load together. Each fetches its document and holds it; when all
 * hold theirs they are told one moment, and apply at it. On trial
 * a device reports with the new document, and is told to keep it only when all of the wave are back
 * and everybody else was heard after them. Otherwise it goes back
 * by itself. So no state is left standing in which somebody does not find the controller: what
 * stood before is what stands again.
 */

export interface WaveMember {
  readonly deviceId: string
  /** When it said that it holds its document, ms. */
  readonly heldAtMs: number | null
  /** When it was first heard with the new document, ms. */
  readonly appliedAtMs: number | null
  /** That it went back to the document before. */
  readonly wentBack: boolean
  /** When it was heard last, whatever it runs, ms; null where it never was. */
  readonly heardAtMs?: number | null
}
export interface Wave {
  readonly openedAtMs: number
  /** The moment at which all apply; null until all hold. */
  readonly applyAtMs: number | null
  readonly members: readonly WaveMember[]
  /** It goes over to another controller: who gets there is not heard here any more. */
  readonly goesOver?: boolean
  /** Devices beside the wave that the controller hears, and when it last did. */
  readonly witnesses: readonly { readonly deviceId: string; readonly heardAtMs: number }[]
}
export interface WaveTimes {
  /** Longest wait for all to hold their document, firmware included, s. */
  readonly holdSeconds: number
  /** Between the decision and the moment, s: each has to hear of it. */
  readonly leadSeconds: number
  /** How long a device tries a document that nobody confirms, s. */
  readonly trialSeconds: number
}
export type WaveVerdict =
  | { readonly kind: 'wait' }
  | { readonly kind: 'apply'; readonly atMs: number }
  | { readonly kind: 'keep' }
  | { readonly kind: 'back'; readonly deviceIds: readonly string[]; readonly why: string }

/** Of a device that runs, s. */
const LEAD_SECONDS = 60
/**
 * What is left of a trial when the last may be confirmed, s: time for every device to hear of it.
 */
const MARGIN_SECONDS = 90
/** For a lease, a name and the report of every device, s. */
const SETTLING_SECONDS = 420

/**
 * @param waits of the profiles of the wave's devices, s;
 * @param loadsFirmware whether some load firmware before
 */
export function waveTimes(
  waits: readonly { bootSeconds: number; firmwareSeconds: number; applySeconds: number }[],
  loadsFirmware: boolean,
): WaveTimes {
  const most = (of: (w: (typeof waits)[number]) => number): number =>
    waits.reduce((n, w) => Math.max(n, of(w)), 0)
  const restart = most((w) => w.applySeconds + w.bootSeconds) * 1.2
  return {
    holdSeconds:
      300 + (loadsFirmware ? 1.2 * most((w) => w.firmwareSeconds + w.bootSeconds) + 300 : 0),
    leadSeconds: LEAD_SECONDS,
    trialSeconds: Math.round(restart + SETTLING_SECONDS + MARGIN_SECONDS),
  }
}

/**
 * What is to be done with a wave now.
 * @param speed how much faster device time runs than the clock that the moments are of
 */
export function judgeWave(wave: Wave, times: WaveTimes, nowMs: number, speed: number): WaveVerdict {
  const ms = (seconds: number): number => (seconds * 1000) / speed
  const gone = wave.members.filter((m) => m.wentBack)
  if (gone.length > 0)
    return {
      kind: 'back',
      deviceIds: gone.map((m) => m.deviceId),
      why: 'went back to the configuration before, since nobody confirmed the new one',
    }
  if (wave.applyAtMs === null) {
    const slow = wave.members.filter((m) => m.heldAtMs === null)
    if (slow.length === 0) return { kind: 'apply', atMs: nowMs + ms(times.leadSeconds) }
    return nowMs - wave.openedAtMs > ms(times.holdSeconds)
      ? {
          kind: 'back',
          deviceIds: slow.map((m) => m.deviceId),
          why: 'did not fetch the new configuration in time',
        }
      : { kind: 'wait' }
  }
  if (wave.goesOver) return judgeGone(wave, wave.applyAtMs, nowMs, ms(2 * times.trialSeconds))
  const isOver = nowMs > wave.applyAtMs + ms(times.trialSeconds - MARGIN_SECONDS)
  const missing = wave.members.filter((m) => m.appliedAtMs === null)
  if (missing.length > 0)
    return isOver
      ? {
          kind: 'back',
          deviceIds: missing.map((m) => m.deviceId),
          why: 'was not heard with the new configuration',
        }
      : { kind: 'wait' }
  const last = Math.max(...wave.members.map((m) => m.appliedAtMs!))
  const silent = wave.witnesses.filter((w) => w.heardAtMs <= last)
  if (silent.length > 0)
    return isOver
      ? {
          kind: 'back',
          deviceIds: silent.map((w) => w.deviceId),
          why: 'was no longer heard after the others had changed',
        }
      : { kind: 'wait' }
  // The first of them has tried for so long that it might go back before it hears that it should
  // not.
  return isOver
    ? { kind: 'back', deviceIds: [], why: 'took too long altogether' }
    : { kind: 'keep' }
}

/**
 * Of devices that go over to another controller, which alone tells them to keep what they try: here
 * nothing is heard of who got there, and who did not is back after its trial.
 * @param afterMs by then whoever went back was heard again
 */
function judgeGone(wave: Wave, applyAtMs: number, nowMs: number, afterMs: number): WaveVerdict {
  const here = wave.members.filter((m) => m.appliedAtMs !== null)
  if (here.length > 0)
    return {
      kind: 'back',
      deviceIds: here.map((m) => m.deviceId),
      why: 'called here while it tried the new address',
    }
  if (nowMs <= applyAtMs + afterMs) return { kind: 'wait' }
  const back = wave.members.filter((m) => (m.heardAtMs ?? 0) > applyAtMs + afterMs / 2)
  return back.length > 0
    ? {
        kind: 'back',
        deviceIds: back.map((m) => m.deviceId),
        why: 'was heard here again: the other controller did not take it',
      }
    : { kind: 'keep' }
}
