export * from './names'
