export * from './states'
export * from './configuration'
export * from './serials'
export { claimsAddUp, sortClaims, type ClaimRow } from './claiming/claims'
export * from './timings'
export {
  differencesOf,
  documentDifferences,
  type Difference,
  type DocumentDifference,
} from './drift/differences'
export { pageInService } from './ways/underController'
export { waysOf, type Way, type WayKind, type Ways } from './ways/ways'
export { takeTheirs, type TakenOver } from './drift/takeTheirs'
export * from './clients/draining'
export * from './school/without'
export * from './clock/clockServers'
