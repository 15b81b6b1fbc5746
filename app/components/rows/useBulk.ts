/** Changes of several rows at once: one change of the plan, whatever the number. */
import type { EditCall } from '@mast/core/plan'

/** @param what the rows are, in the plural: `devices` */
export function useBulk(what: string) {
  const site = useSite()
  const refused = ref<string | undefined>()
  const make = (verb: string, count: number, edits: readonly EditCall[]): boolean => {
    refused.value = site.mend(`${verb} ${count} ${what}`, edits)
    return refused.value === undefined
  }
  return {
    refused,
    /** Whether it was done; what keeps it from being done is in `refused`. */ make,
    all: (verb: string, ids: readonly string[], edit: (id: string) => EditCall): boolean =>
      make(verb, ids.length, ids.map(edit)),
  }
}
