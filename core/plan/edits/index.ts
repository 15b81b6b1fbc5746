/** All edits by name. */
import { runEdit, type EditCall, type EditDefinition, type EditOutcome } from '../edit'
import type { SitePlan } from '../schema'
import { addressEditList } from './addresses'
import { deviceEditList } from './devices'
import { entityEditList } from './entities'
import { portEditList } from './ports'
import { siteEditList } from './site'

export const edits: ReadonlyMap<string, EditDefinition<never>> = new Map(
  (
    [
      ...siteEditList,
      ...deviceEditList,
      ...portEditList,
      ...addressEditList,
      ...entityEditList,
    ] as unknown as EditDefinition<never>[]
  ).map((e) => [e.name, e]),
)

export function applyEdit(plan: SitePlan, call: EditCall): EditOutcome {
  const definition = edits.get(call.name)
  if (!definition)
    return { ok: false, problems: [{ path: ['name'], reason: `there is no edit '${call.name}'` }] }
  return runEdit(plan, definition, call.args)
}

/**
 * Applies edits in order; stops at the first that is refused.
 * @throws Error naming it, for callers that know their edits.
 */
export function applyEdits(plan: SitePlan, calls: readonly EditCall[]): SitePlan {
  return calls.reduce((current, call, n) => {
    const outcome = applyEdit(current, call)
    if (!outcome.ok)
      throw new Error(
        `edit ${n} ${call.name}: ${outcome.problems.map((p) => `${p.path.join('.')} ${p.reason}`).join('; ')}`,
      )
    return outcome.plan
  }, plan)
}

export {
  allocationsFor,
  fixedAddressCount,
  foreignPrefixes,
  networkOf,
  poolsAround,
} from './addresses'
export { newDeviceSchema, type NewDevice } from './devices'
