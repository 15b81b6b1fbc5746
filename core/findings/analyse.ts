/** Runs every rule over a plan. */
import { siteModel, type SiteModel } from '../topology'
import type { SitePlan } from '../plan'
import type { Finding, Rule, Severity, Sheet } from './rule'
import accessVlanUnassignable from './rules/accessVlanUnassignable'
import addressInWrongPlace from './rules/addressInWrongPlace'
import cableKinds from './rules/cableKinds'
import controllerFull from './rules/controllerFull'
import denyAfterAllow from './rules/denyAfterAllow'
import forwardAstray from './rules/forwardAstray'
import duplicates from './rules/duplicates'
import guestIsolationAlone from './rules/guestIsolationAlone'
import guestsTogether from './rules/guestsTogether'
import habits from './rules/habits'
import handOffUnknown from './rules/handOffUnknown'
import isolationLeaks from './rules/isolationLeaks'
import keylessNetwork from './rules/keylessNetwork'
import knownNetworks from './rules/knownNetworks'
import lanOverlapsProvider from './rules/lanOverlapsProvider'
import leasesMissing from './rules/leasesMissing'
import licenceMissing from './rules/licenceMissing'
import lineUnused from './rules/lineUnused'
import loops from './rules/loops'
import missingTag from './rules/missingTag'
import noPower from './rules/noPower'
import noWayToController from './rules/noWayToController'
import openManagement from './rules/openManagement'
import deviceAbilities from './rules/deviceAbilities'
import outdoorManagement from './rules/outdoorManagement'
import poeBudget from './rules/poeBudget'
import poolCovers from './rules/poolCovers'
import poolTooSmall from './rules/poolTooSmall'
import portRole from './rules/portRole'
import pppoeMtu from './rules/pppoeMtu'
import publicSpace from './rules/publicSpace'
import relayUnreachable from './rules/relayUnreachable'
import restrictedReachesStaff from './rules/restrictedReachesStaff'
import routeNextHop from './rules/routeNextHop'
import secondLeaseServer from './rules/secondLeaseServer'
import serverBehindDenial from './rules/serverBehindDenial'
import sixtyFours from './rules/sixtyFours'
import subnetsOverlap from './rules/subnetsOverlap'
import tagsAtHost from './rules/tagsAtHost'
import unknownEnd from './rules/unknownEnd'
import untaggedDiffers from './rules/untaggedDiffers'
import wayIntoManagement from './rules/wayIntoManagement'

export const rules: readonly Rule[] = [
  duplicates,
  handOffUnknown,
  pppoeMtu,
  lineUnused,
  licenceMissing,
  controllerFull,
  noPower,
  lanOverlapsProvider,
  subnetsOverlap,
  knownNetworks,
  publicSpace,
  addressInWrongPlace,
  routeNextHop,
  leasesMissing,
  poolCovers,
  poolTooSmall,
  relayUnreachable,
  secondLeaseServer,
  sixtyFours,
  habits,
  portRole,
  missingTag,
  untaggedDiffers,
  tagsAtHost,
  cableKinds,
  wayIntoManagement,
  outdoorManagement,
  deviceAbilities,
  loops,
  accessVlanUnassignable,
  poeBudget,
  keylessNetwork,
  guestsTogether,
  guestIsolationAlone,
  isolationLeaks,
  restrictedReachesStaff,
  denyAfterAllow,
  unknownEnd,
  forwardAstray,
  openManagement,
  serverBehindDenial,
  noWayToController,
]

const weight: Record<Severity, number> = { blocker: 0, caution: 1, note: 2 }

/** Nobody reads more of one kind, and working out the fix of each takes its time. */
export const MOST_OF_A_RULE = 100

/** What each rule found last, with the parts of the plan that it was found in. */
const kept = new Map<
  Rule,
  { readonly parts: readonly unknown[]; readonly found: readonly Finding[] }
>()

function foundBy(rule: Rule, model: SiteModel): readonly Finding[] {
  // Who is the root of the spanning tree decides where every VLAN goes.
  const parts = [
    ...rule.reads.map((part) => model.plan[part]),
    model.plan.site.preferences.spanningTreeRootId,
  ]
  const before = kept.get(rule)
  if (before?.parts.every((part, i) => part === parts[i])) return before.found
  const found: Finding[] = []
  for (const body of rule.check(model)) {
    const of = { ruleId: rule.id, catches: rule.catches, title: rule.title, sheet: rule.sheet }
    if (found.length === MOST_OF_A_RULE) {
      found.push({
        ...of,
        id: `${rule.id}:more`,
        severity: rule.severity,
        subjects: body.subjects,
        text: `There are more than ${MOST_OF_A_RULE} remarks of this kind.`,
        why: 'The others are looked for when these are mended.',
      })
      break
    }
    found.push({
      ...of,
      ...body,
      id: `${rule.id}:${body.subjects.join(',')}`,
      severity: body.severity ?? rule.severity,
    })
  }
  kept.set(rule, { parts, found })
  return found
}

/**
 * Findings in the order in which a person should act: blockers first, then by the order of the
 * rules. Rules look again only at what changed since the last plan.
 */
export function findingsOf(plan: SitePlan): Finding[] {
  const model = siteModel(plan)
  const found = rules.flatMap((rule) => foundBy(rule, model))
  return found
    .map((f, i) => ({ f, i }))
    .sort((a, b) => weight[a.f.severity] - weight[b.f.severity] || a.i - b.i)
    .map(({ f }) => f)
}

export type SheetMark = { readonly blockers: number; readonly cautions: number }

export function marksOf(findings: readonly Finding[]): Record<Sheet, SheetMark> {
  const marks = {} as Record<Sheet, { blockers: number; cautions: number }>
  for (const sheet of ['survey', 'addresses', 'wiring', 'wifi', 'policy'] as const)
    marks[sheet] = { blockers: 0, cautions: 0 }
  for (const f of findings) {
    if (f.severity === 'blocker') marks[f.sheet].blockers++
    else if (f.severity === 'caution') marks[f.sheet].cautions++
  }
  return marks
}
