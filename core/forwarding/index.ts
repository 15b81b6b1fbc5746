export type { Endpoint, Trace, TraceHop } from './fate'
export * from './trace'
