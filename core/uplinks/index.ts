/** Lines to the internet: how they are tested, what they lie on, what a year with them is like. */
export * from './choice'
export * from './facts'
export { marksOf, type LineMarks } from './marks'
export { readPingLog } from './pingLog'
export { probeGbAMonth } from './failover/probes'
export {
  linesInUse,
  siteOutlook,
  siteCuts,
  siteTuning,
  startWords,
  watchedLines,
} from './failover/siteOutlook'
export { turnDrawn, turnOf, turnsOf, turnTimeline, turnTimes, type Turn } from './failover/turn'
export { FLAP_SECONDS } from './failover/lossSwitches'
export { playYears, type YearsPlayed } from './failover/siteYears'
export {
  drillExpected,
  drillKinds,
  drillParts,
  drillSchema,
  drillTimeline,
  judgeDrill,
  type Drill,
  type DrillKind,
} from './failover/drill'
export { onStandby, PERSON_MBPS } from './failover/onStandby'
export type { Drawn } from './failover/drawn'
export type { SiteOutlook } from './failover/siteOutlook'
export type { Timeline } from './failover/timeline'
export type { Took } from './failover/times'
export { tune, withSetting } from './failover/tuner'
export type { Tuned, Tuning } from './failover/tuner'
