export * from './siteModel'
export * from './carriage'
export * from './needs'
export * from './power'
