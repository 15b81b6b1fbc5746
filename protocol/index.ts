export * from './configuration'
export * from './messages'
export * from './probes'
