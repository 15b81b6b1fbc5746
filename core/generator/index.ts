export * from './random'
export * from './site'
