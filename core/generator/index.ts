export * from './random'
export * from './place'
export * from './site'
