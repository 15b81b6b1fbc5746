/**
 * The states of a device on its way into the controller, as an explicit machine. What is not in the
 * table is refused.
 */

export const adoptionStates = [
  'planned',
  'powered',
  'seen',
  'claimed',
  'loading',
  'in-service',
  'drifted',
  'lost',
  'foreign',
] as const
export type AdoptionState = (typeof adoptionStates)[number]

export type AdoptionEvent =
  /** A person says that it has power. */
  | 'power'
  /** It called without a token. */
  | 'hello'
  /** A person claimed its serial. */
  | 'claim'
  /** A person gave it up. */
  | 'release'
  /** It fetched a configuration that it does not run yet. */
  | 'fetch'
  /** It reported the wanted firmware and configuration. */
  | 'report-matching'
  /** It reported something else without having been told to load. */
  | 'report-differing'
  /** It reported that it is loading. */
  | 'report-loading'
  /** Nothing was heard for three report intervals. */
  | 'silence'

type Row = Partial<Record<AdoptionEvent, AdoptionState>>
export const transitions: Readonly<Record<AdoptionState, Row>> = {
  planned: { power: 'powered', hello: 'seen', claim: 'claimed' },
  powered: { hello: 'seen', claim: 'claimed', release: 'planned' },
  seen: { power: 'seen', hello: 'seen', claim: 'claimed', silence: 'lost', release: 'planned' },
  claimed: {
    power: 'claimed',
    hello: 'claimed',
    fetch: 'loading',
    'report-loading': 'loading',
    'report-matching': 'in-service',
    'report-differing': 'loading',
    release: 'planned',
  },
  loading: {
    hello: 'claimed',
    fetch: 'loading',
    'report-loading': 'loading',
    'report-matching': 'in-service',
    'report-differing': 'loading',
    silence: 'lost',
    release: 'planned',
  },
  'in-service': {
    hello: 'claimed',
    fetch: 'loading',
    'report-loading': 'loading',
    'report-matching': 'in-service',
    'report-differing': 'drifted',
    silence: 'lost',
    release: 'planned',
  },
  drifted: {
    hello: 'claimed',
    fetch: 'loading',
    'report-loading': 'loading',
    'report-matching': 'in-service',
    'report-differing': 'drifted',
    silence: 'lost',
    release: 'planned',
  },
  lost: {
    hello: 'seen',
    claim: 'claimed',
    fetch: 'loading',
    'report-loading': 'loading',
    'report-matching': 'in-service',
    'report-differing': 'drifted',
    silence: 'lost',
    release: 'planned',
  },
  foreign: { hello: 'foreign', silence: 'foreign' },
}

export type TransitionOutcome =
  { ok: true; state: AdoptionState; changed: boolean } | { ok: false; reason: string }

export function transition(
  state: AdoptionState,
  event: AdoptionEvent,
  claimed = false,
): TransitionOutcome {
  const next = transitions[state][event]
  if (!next) return { ok: false, reason: `a device that is ${state} cannot take '${event}'` }
  // A device that lost its memory calls as if new; its claim stands, so nobody has to claim it
  // again.
  const settled: AdoptionState = event === 'hello' && claimed && next === 'seen' ? 'claimed' : next
  return { ok: true, state: settled, changed: settled !== state }
}

export interface DeviceFacts {
  readonly state: AdoptionState
  readonly serial: string | null
  readonly firmware: string | null
  readonly firmwareWanted: string
  /** Whether it ever called. */
  readonly isHeard: boolean
}

/**
 * The one thing that a device waits for, in words for the person in front of it, and whether that
 * is an error.
 */
export function waitingFor(f: DeviceFacts): { text: string; isError: boolean } {
  switch (f.state) {
    case 'planned':
      return f.serial
        ? { text: 'power', isError: false }
        : { text: 'its serial in the plan', isError: true }
    case 'powered':
      return { text: 'the device to start and call', isError: false }
    case 'seen':
      return { text: 'you to claim it', isError: false }
    case 'claimed':
      return {
        text: f.isHeard
          ? 'the device to call for its configuration'
          : 'power, and the device to call for the first time',
        isError: false,
      }
    case 'loading':
      return f.firmware === f.firmwareWanted
        ? { text: 'the device to load its configuration', isError: false }
        : { text: `the device to load firmware ${f.firmwareWanted}`, isError: false }
    case 'in-service':
      return { text: 'nothing', isError: false }
    case 'drifted':
      return {
        text: 'you: it runs something else than planned; load the plan again or take the change over',
        isError: true,
      }
    case 'lost':
      return {
        text: 'a call: wait one interval, then look at its power, its cable, its line',
        isError: true,
      }
    case 'foreign':
      return {
        text: 'you: its serial is in no plan here; compare it letter by letter with the label',
        isError: true,
      }
  }
}
