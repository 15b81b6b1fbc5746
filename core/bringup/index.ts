export * from './runSheet'
export * from './schedule'
