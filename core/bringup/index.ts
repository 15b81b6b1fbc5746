export * from './gate'
export * from './runSheet'
export * from './schedule'
