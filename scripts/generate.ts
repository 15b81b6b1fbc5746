/**
 * Writes the documents that are made from the code: node --import tsx scripts/generate.ts. A test
 * fails where they are stale.
 */
import { writeFileSync } from 'node:fs'
import { generatedDocuments } from './generatedDocuments'

for (const [file, text] of Object.entries(generatedDocuments())) {
  writeFileSync(file, text)
  console.log(`wrote ${file}`)
}
