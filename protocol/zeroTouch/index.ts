export * from './data'
export * from './cms'
