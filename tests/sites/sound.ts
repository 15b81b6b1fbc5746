/** Two masts and what lies between them, for tests of bridges: from a few numbers. */
import {
  applyEdits,
  createPlan,
  editCall as edit,
  plainEnd,
  type BridgeEnd,
  type EditCall,
  type Obstacle,
  type SitePlan,
} from '@mast/core/plan'

export interface SoundGiven {
  readonly profileId: string
  readonly channel: number
  readonly widthMhz: number
  readonly metres: number
  readonly degrees: number
  readonly heightAM: number
  readonly heightBM: number
  readonly ground: readonly { atM: number; heightM: number }[]
  readonly obstacles: readonly Obstacle[]
  readonly end?: Partial<BridgeEnd>
}
export const SOUND_AT = { latitude: 57.9, longitude: -6.7 }

/** Near enough for a few tens of kilometres; how far it really is is worked out by who reads it. */
export function soundEnd({ metres, degrees }: Pick<SoundGiven, 'metres' | 'degrees'>) {
  const turn = (degrees * Math.PI) / 180
  return {
    latitude: SOUND_AT.latitude + (Math.cos(turn) * metres) / 111_320,
    longitude:
      SOUND_AT.longitude +
      (Math.sin(turn) * metres) / (111_320 * Math.cos((SOUND_AT.latitude * Math.PI) / 180)),
  }
}

export function soundSite(given: SoundGiven): SitePlan {
  const end = (role: 'main' | 'far', heightM: number): BridgeEnd => ({
    ...plainEnd,
    role,
    channel: given.channel,
    widthMhz: given.widthMhz,
    country: 'GB',
    keyRef: 'bridge-sound',
    ...given.end,
    heightM,
  })
  const unit = (id: string, at: { latitude: number; longitude: number }): EditCall[] => [
    edit('addLocation', { id, name: id, kind: 'mast', ...at, heightM: 10 }),
    edit('addDevice', {
      id: `${id}-radio`,
      name: `${id} radio`,
      profileId: given.profileId,
      locationId: id,
    }),
  ]
  return applyEdits(createPlan('Sound'), [
    ...unit('shore', SOUND_AT),
    ...unit('island', soundEnd(given)),
    edit('addLink', {
      id: 'air',
      a: 'shore-radio.air',
      b: 'island-radio.air',
      medium: 'radio',
      lengthM: Math.max(1, Math.round(given.metres)),
    }),
    edit('addBridge', {
      id: 'sound',
      name: 'Sound',
      linkId: 'air',
      a: end('main', given.heightAM),
      b: end('far', given.heightBM),
      ground: [...given.ground],
      obstacles: [...given.obstacles],
    }),
  ])
}
