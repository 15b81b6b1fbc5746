/** What the lamp of an extender says of its link, against what the plan expects there. */
import type { Light } from '../../plan'
import { schools, type School, type Stand } from './extending'

/** States in which an extender says how well it hears what it repeats. */
export type LinkState = Extract<Light['state'], 'link-good' | 'link-fair' | 'link-poor'>

export const isLinkState = (state: Light['state']): state is LinkState =>
  state === 'link-good' || state === 'link-fair' || state === 'link-poor'

/** From so many percent on the lamp shows it (common practice: two thirds, and half). */
export const FROM_PERCENT: Readonly<Record<LinkState, number>> = {
  'link-good': 65,
  'link-fair': 50,
  'link-poor': 0,
}
export const linkStateAt = (percent: number): LinkState =>
  percent >= FROM_PERCENT['link-good']
    ? 'link-good'
    : percent >= FROM_PERCENT['link-fair']
      ? 'link-fair'
      : 'link-poor'

const rank: Readonly<Record<LinkState, number>> = { 'link-poor': 0, 'link-fair': 1, 'link-good': 2 }

/** What to do, in words: stay, or the next outlet, and why the plan may be wrong. */
export function lampAdvice(
  says: LinkState,
  now: Stand,
  outlets: readonly (Stand & { readonly isLetThrough: boolean })[],
  school: School,
): { readonly isFine: boolean; readonly text: string; readonly next: Stand | null } {
  const isFine = FROM_PERCENT[says] >= schools[school].atLast
  const expected = linkStateAt(now.percent)
  const off = rank[says] - rank[expected]
  const surprise =
    off < 0
      ? `The plan expects ${now.percent} % here: something on the way takes more than is drawn. ` +
        'Take a reading here, and let it bend the model. '
      : off > 0
        ? `The plan expects ${now.percent} % here and it is better: what is drawn takes more than what is there. `
        : ''
  if (isFine) return { isFine, text: `${surprise}It may stay here.`, next: null }
  const isOther = (o: Stand): boolean => Math.hypot(o.at.x - now.at.x, o.at.y - now.at.y) > 0.3
  const next = outlets.find((o) => isOther(o) && o.isLetThrough && o.percent > now.percent) ?? null
  return {
    isFine,
    text:
      surprise +
      (next
        ? `Try the outlet at ${next.at.x}, ${next.at.y} m: ${next.percent} % are expected there.`
        : 'No outlet that is drawn is nearer and heard better: draw more of them, or hang a second access point.'),
    next,
  }
}
