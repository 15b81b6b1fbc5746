export * from './rule'
export * from './analyse'
export * from './offers'
