export * from './tests'
export * from './judge'
export * from './causes'
