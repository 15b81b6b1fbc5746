/** The faults that can be put in. */
import type { SitePlan } from '@mast/core/plan'
import { drainingClient } from './drainingClient'
import { z } from 'zod'
import { bothMain } from './bothMain'
import { bridgeChannel } from './bridgeChannel'
import { changedByHand } from './changedByHand'
import { cloudburst } from './cloudburst'
import { deadLine } from './deadLine'
import { deadPath } from './deadPath'
import type { FaultKind } from './fault'
import { grownTrees } from './grownTrees'
import { hiddenWall } from './hiddenWall'
import { lossyLine } from './lossyLine'
import { misaimed } from './misaimed'
import { missingTag } from './missingTag'
import { mistypedSerial } from './mistypedSerial'
import { modemOff } from './modemOff'
import { otherAddress } from './otherAddress'
import { otherChannel } from './otherChannel'
import { pointMoved } from './pointMoved'
import { pointOff } from './pointOff'
import { rogueServer } from './rogueServer'
import { smallPackets } from './smallPackets'
import { staleName } from './staleName'
import { swappedCables } from './swappedCables'
import { tunnelAllowed } from './tunnelAllowed'
import { tunnelEndpoint } from './tunnelEndpoint'
import { tunnelForward } from './tunnelForward'
import { tunnelForeign } from './tunnelForeign'
import { tunnelKey } from './tunnelKey'
import { tunnelNoAccess } from './tunnelNoAccess'
import { tunnelPort } from './tunnelPort'
import { tunnelSilence } from './tunnelSilence'
import { tunnelSize } from './tunnelSize'
import { turnedDish } from './turnedDish'
import { wornLead } from './wornLead'
import { wrongHandOffTag } from './wrongHandOffTag'
import { wrongKey } from './wrongKey'

const kinds = [
  swappedCables,
  missingTag,
  wrongHandOffTag,
  deadLine,
  deadPath,
  modemOff,
  lossyLine,
  otherAddress,
  smallPackets,
  mistypedSerial,
  rogueServer,
  hiddenWall,
  wrongKey,
  changedByHand,
  otherChannel,
  pointOff,
  pointMoved,
  misaimed,
  bridgeChannel,
  bothMain,
  turnedDish,
  cloudburst,
  grownTrees,
  tunnelForeign,
  tunnelKey,
  tunnelEndpoint,
  tunnelForward,
  tunnelPort,
  tunnelNoAccess,
  tunnelAllowed,
  tunnelSilence,
  tunnelSize,
  staleName,
  drainingClient,
  wornLead,
] as const

type FaultSchema = (typeof kinds)[number]['schema']
export const faultSchema = z.discriminatedUnion(
  'kind',
  kinds.map((k) => k.schema) as unknown as readonly [FaultSchema, ...FaultSchema[]],
)
export type Fault = z.infer<typeof faultSchema>

type AnyKind = FaultKind<string, z.ZodType<Fault>>
const byKind = new Map<string, AnyKind>(kinds.map((k) => [k.kind, k as unknown as AnyKind]))
export const kindOfFault = (f: Fault): AnyKind => byKind.get(f.kind)!
export const faultKey = (f: Fault): string => {
  const of = kindOfFault(f).of?.(f)
  return of === undefined ? f.kind : `${f.kind}:${of}`
}

/** Faults that a plan makes possible, one of each kind where it is most telling. */
export const faultsOffered = (plan: SitePlan): { fault: Fault; label: string }[] =>
  kinds.flatMap((k) => k.offer(plan) ?? [])

export type { FaultWorld } from './fault'
