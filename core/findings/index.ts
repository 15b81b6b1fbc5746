export * from './rule'
export * from './analyse'
