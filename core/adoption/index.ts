export * from './states'
export * from './configuration'
export * from './serials'
export * from './timings'
