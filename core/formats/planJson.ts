/** The plan itself, as it is kept. */
import { defineFormat } from './format'

export const planJson = defineFormat({
  id: 'json',
  title: 'Site plan (JSON)',
  sheet: 'survey',
  files: 'plan.json',
  mediaType: 'application/json',
  write: ({ model }) => ({ 'plan.json': `${JSON.stringify(model.plan, null, 2)}\n` }),
})
