export * from './compile'
export * from './matrix'
export * from './proposal'
