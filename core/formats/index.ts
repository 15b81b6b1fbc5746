export * from './equipmentCsv'
export * from './addressCsv'
