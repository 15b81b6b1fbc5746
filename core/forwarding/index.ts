export type { Endpoint, Trace, TraceHop } from './fate'
export * from './trace'
export * from './outsideAsks'
