export * from './trace'
