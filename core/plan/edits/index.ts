/** All edits by name. */
import { runEdit, type EditDefinition, type EditOutcome, type RawEdit } from '../edit'
import type { z } from 'zod'
import type { SitePlan } from '../schema'
import { addressEditList } from './addresses'
import { deviceEditList } from './devices'
import { entityEditList } from './entities'
import { portEditList } from './ports'
import { presetEditList } from './presets'
import { siteEditList } from './site'

const list = [
  ...siteEditList,
  ...deviceEditList,
  ...presetEditList,
  ...portEditList,
  ...addressEditList,
  ...entityEditList,
]
type AnyEdit = (typeof list)[number]
export type EditName = AnyEdit['name']
/** Arguments of each edit, as they are given. */
export type EditArgs = {
  [E in AnyEdit as E['name']]: z.input<E['args']>
}
/** An edit that there is, with arguments that it takes. */
export type EditCall<N extends EditName = EditName> = {
  [K in N]: { readonly name: K; readonly args: EditArgs[K] }
}[N]
export const editCall = <N extends EditName>(name: N, args: EditArgs[N]): EditCall<N> =>
  ({ name, args }) as EditCall<N>

export const edits: ReadonlyMap<string, EditDefinition<EditName, never>> = new Map(
  (list as unknown as EditDefinition<EditName, never>[]).map((e) => [e.name, e]),
)

/** Applies an edit that came from elsewhere, whatever it is called and has for arguments. */
export function applyRawEdit(plan: SitePlan, call: RawEdit): EditOutcome {
  const definition = edits.get(call.name)
  if (!definition)
    return { ok: false, problems: [{ path: ['name'], reason: `there is no edit '${call.name}'` }] }
  return runEdit(plan, definition, call.args)
}
export const applyEdit = (plan: SitePlan, call: EditCall): EditOutcome => applyRawEdit(plan, call)

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
