/** A slip for each device, for whoever plugs it in without knowing what it is. */
import { gearOf, slipOf } from '../bringup'
import type { SiteModel } from '../topology'
import { defineFormat } from './format'
import { plain } from './markdown'

function writeSlips(model: SiteModel): string {
  const slips = gearOf(model).map((d) => slipOf(model, d))
  const one = ({ name, lines }: (typeof slips)[number]): string =>
    `## ${plain(name)}\n\n${lines.map((l) => `- ${plain(l)}`).join('\n')}\n`
  return `# Slips of ${plain(model.plan.site.name)}\n\n${slips.map(one).join('\n')}`
}

export const slipsMarkdown = defineFormat({
  id: 'slips',
  title: 'Slips for whoever plugs devices in (Markdown)',
  sheet: 'bring-up',
  files: 'slips.md',
  mediaType: 'text/markdown',
  write: ({ model }) => ({ 'slips.md': writeSlips(model) }),
})
