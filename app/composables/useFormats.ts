/** The plan written in a form, handed to the browser as a file. */
import { zipSync, strToU8 } from 'fflate'
import { utcOffsetMinutes } from '@mast/core/plan'

/**
 * Saves the open site in a form, by its id. Gives the reason where there is nothing to save. The
 * forms are fetched when one is asked for.
 */
export function useSaveInFormat(): (id: string) => Promise<string | undefined> {
  const site = useSite()
  return async (id) => {
    const { formatById } = await import('@mast/core/formats')
    const format = formatById(id)!
    const { model } = site.opened
    const utcOffset = utcOffsetMinutes(model.plan.site.timeZone, new Date())
    const files = Object.entries(format.write!({ model, serial: site.revision, utcOffset }))
    const [first, ...others] = files
    if (!first) return format.nothing ?? 'there is nothing of the plan to write in this form'
    if (others.length === 0) saveAs(first[0], format.mediaType, first[1])
    else {
      const octets = Object.fromEntries(files.map(([name, text]) => [name, strToU8(text)]))
      saveOctetsAs(`${format.id}.zip`, 'application/zip', zipSync(octets))
    }
    return undefined
  }
}
