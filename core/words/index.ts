export * from './duration'
export * from './list'
