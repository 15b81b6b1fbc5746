export type { Endpoint, Trace, TraceHop } from './fate'
export * from './trace'
export * from './outsideAsks'
export * from './controllerEnd'
