export * from './facts'
export * from './fieldRule'
export * from './findings'
export * from './controllerAddress'
