/** Channels planned anew by what is heard, as edits; what a controller does at night by itself. */
import { editCall, type EditCall } from '../../plan'
import { bands } from '../../radio/bands'
import type { SiteModel } from '../../topology'
import { planChannels, settingsWith } from './plan'
import { unsettledOf, unsettledWords } from './unsettled'

/** For less than that nobody is sent away: one pair that begins to hear each other is 0.02. */
const WORTH = 0.02

export interface Anew {
  readonly edits: readonly EditCall[]
  /** What is done, or why nothing is, in words. */
  readonly text: string
}

export function channelsAnew(model: SiteModel): Anew {
  const loose = unsettledWords(unsettledOf(model))
  if (loose !== null) return { edits: [], text: loose }
  const plans = bands
    .map((band) => planChannels(model, band))
    .filter((p) => p.costNow - p.cost >= WORTH && p.radios.some((r) => r.from !== r.to))
  if (plans.length === 0) return { edits: [], text: 'no other channels disturb less' }
  const moved = plans.flatMap((p) => p.radios.filter((r) => r.from !== r.to))
  const ids = [...new Set(moved.map((r) => r.deviceId))].sort()
  return {
    edits: ids.map((id) =>
      editCall('changeDevice', { id, changes: { radios: settingsWith(model, id, plans) } }),
    ),
    text: `Channels planned anew: ${moved.length} ${moved.length === 1 ? 'radio changes' : 'radios change'}`,
  }
}
