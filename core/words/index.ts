export * from './duration'
