/** A plan in other forms. */
import { formatById, writable } from '../formats'
import { utcOffsetMinutes } from '../plan'
import { siteModel } from '../topology'
import { defineVerb, Unusable } from './verb'

/**
 * The serial of zones written without a server: the program keeps nothing, so a file that is loaded
 * again needs its number raised.
 */
const FIRST_SERIAL = 1

export const exportVerb = defineVerb({
  name: 'export',
  usage: 'FILE --format F [--out DIR] [--json]',
  about: 'a plan in another form',
  run(plan, options) {
    const format = formatById(options.format ?? '')
    if (!format?.write)
      throw new Unusable(`export needs --format; known are ${writable.map((f) => f.id).join(', ')}`)
    const utcOffset = utcOffsetMinutes(plan.site.timeZone, options.now)
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
      json: {
        ok: true,
        file: first[0],
        content: first[1],
        ...(others.length > 0 ? { files } : {}),
      },
      files,
    }
  },
})
