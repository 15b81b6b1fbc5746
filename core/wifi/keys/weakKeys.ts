/** C-31 over all networks of a site: which keys are short, or guessed soon. Never the keys. */
import { own, type SitePlan } from '../../plan'
import { keyStrength, timeWords } from './keyStrength'

/** @param secrets by their names in the vault */
export const weakKeys = (plan: SitePlan, secrets: Readonly<Record<string, string>>): string[] =>
  Object.values(plan.wirelessNetworks).flatMap((w) => {
    const key = w.keyRef && w.security !== 'open' ? own(secrets, w.keyRef) : undefined
    if (!key) return []
    const { problems, seconds } = keyStrength(key, [w.name, plan.site.name])
    return problems.length === 0
      ? []
      : [`The key of '${w.name}' is weak (C-31): guessed within ${timeWords(seconds)}.`]
  })
