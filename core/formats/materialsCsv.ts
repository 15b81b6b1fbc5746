/** What to bring, as a table. */
import { billOfMaterials } from '../survey'
import { writeCsv } from './csv'
import { defineFormat } from './format'

export const materialsCsv = defineFormat({
  id: 'materials-csv',
  title: 'Materials (CSV)',
  sheet: 'survey',
  files: 'materials.csv',
  mediaType: 'text/csv',
  write({ model }) {
    const rows = billOfMaterials(model).map((l) => [
      l.group,
      l.what,
      l.count,
      l.lengthM,
      l.runs.join('; '),
    ])
    return { 'materials.csv': writeCsv(['group', 'what', 'count', 'length m', 'for'], rows) }
  },
})
