export * from './facts'
export * from './findings'
export * from './controllerAddress'
