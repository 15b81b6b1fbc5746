/** A plan in other forms. */
import { formatById, writable } from '@mast/core/formats'
import { utcOffsetMinutes, type SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { Unusable, type Options, type Outcome } from './outcome'

/**
 * The serial of zones written without a server: the program keeps nothing, so a file that is loaded
 * again needs its number raised.
 */
const FIRST_SERIAL = 1

export function exportPlan(plan: SitePlan, options: Options): Outcome {
  const format = formatById(options.format ?? '')
  if (!format?.write)
    throw new Unusable(`export needs --format; known are ${writable.map((f) => f.id).join(', ')}`)
  const utcOffset = utcOffsetMinutes(plan.site.timeZone, new Date())
  const files = format.write({ model: siteModel(plan), serial: FIRST_SERIAL, utcOffset })
  const [first, ...others] = Object.entries(files)
  if (!first)
    throw new Unusable(format.nothing ?? 'there is nothing of the plan to write in this format')
  const text =
    others.length === 0
      ? first[1]
      : Object.entries(files)
          .map(([name, content]) => `# ${name}\n${content}`)
          .join('\n')
  return {
    status: 0,
    text: text.trimEnd(),
    json: { ok: true, file: first[0], content: first[1], ...(others.length > 0 ? { files } : {}) },
    files,
  }
}
