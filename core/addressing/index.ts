export * from './address'
export * from './prefix'
export * from './registry'
export * from './allocate'
