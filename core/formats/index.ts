export * from './equipmentCsv'
export * from './addressCsv'
export * from './runSheetMarkdown'
