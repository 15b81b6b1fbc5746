/** What a lamp says: which state, what comes next, when to worry, and what to look at. */
import type { Light, Profile } from '../../plan'

export interface Seen {
  readonly colour: Light['colour'] | null
  readonly rhythm: Light['rhythm'] | null
  /** For how long it has looked so, s; null where nobody knows. */
  readonly forSeconds: number | null
}
export interface Decoded {
  readonly light: Light
  /** What it shows next, if all goes well; null of one that is where it should be. */
  readonly next: Light | null
  /** The longest that is usual, s; null where it stays so until somebody does something. */
  readonly usualSeconds: number | null
  readonly isWorrying: boolean
  readonly lookAt: string
}

/** On its way from the box into service. */
const WAY: readonly Light['state'][] = [
  'off',
  'starting',
  'seeking-address',
  'seeking-controller',
  'awaiting-claim',
  'loading',
  'in-service',
]
/** To be given an address, and to be heard by a controller, s (common practice). */
const ADDRESS_S = 60
const CONTROLLER_S = 90
/** Beyond what a profile says, before somebody worries. */
const SLOWER = 1.2

function usualSeconds(profile: Profile, state: Light['state']): number | null {
  const { bootSeconds, firmwareSeconds, applySeconds } = profile.waits
  switch (state) {
    case 'off':
      return 0
    case 'starting':
      return Math.round(bootSeconds * SLOWER)
    case 'seeking-address':
      return ADDRESS_S
    case 'seeking-controller':
      return CONTROLLER_S
    case 'loading':
      return Math.round((firmwareSeconds + applySeconds) * SLOWER)
    default:
      return null
  }
}

const looks: Readonly<Record<Light['state'], string>> = {
  off: 'Its lead, its outlet, the powered socket that feeds it; a switch of its own, which some have.',
  starting: 'Power that is too weak: another lead or injector; then its reset.',
  'seeking-address':
    'The untagged VLAN of the port that it hangs on, and who hands out leases there.',
  'seeking-controller':
    'Whether the controller runs, the way and the rules to it, and the address that it was told.',
  'awaiting-claim': 'Its serial, letter by letter, and whether it was claimed at all.',
  loading: 'Nothing while it writes; after twice the usual time its last report in Adopt.',
  'in-service': 'Nothing. Where Adopt says otherwise: wait one report, refresh, then its line.',
  fault: 'Its last report in Adopt; then its backup, or a reset.',
  'link-good': 'Nothing: it may stay here.',
  'link-fair': 'An outlet nearer to what it repeats, where it is to carry much.',
  'link-poor': 'An outlet nearer to what it repeats; not behind metal or water.',
}

/** The most likely first: what fits colour and rhythm. */
export function decode(profile: Profile, seen: Seen): Decoded[] {
  const fits = profile.lights.filter(
    (l) =>
      (seen.colour === null || l.colour === seen.colour) &&
      // What is dark has no rhythm.
      (seen.rhythm === null || l.rhythm === seen.rhythm || l.colour === 'off') &&
      !(
        seen.rhythm !== null &&
        seen.rhythm !== 'none' &&
        l.colour === 'off' &&
        seen.colour !== 'off'
      ),
  )
  return fits.map((light): Decoded => {
    const at = WAY.indexOf(light.state)
    const later = at < 0 || light.state === 'in-service' ? [] : WAY.slice(at + 1)
    const next = later.map((s) => profile.lights.find((l) => l.state === s)).find((l) => l) ?? null
    const usual = usualSeconds(profile, light.state)
    return {
      light,
      next,
      usualSeconds: usual,
      isWorrying:
        light.state === 'fault' ||
        light.state === 'link-poor' ||
        (usual !== null && seen.forSeconds !== null && seen.forSeconds > usual),
      lookAt: looks[light.state],
    }
  })
}
