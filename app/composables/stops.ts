/** The stops of the line in the browser: where they are, and the mark of each. */
import { sheets, type SheetId, type SiteStanding, type StopMark } from '@mast/core/sheets'

export const stopPath = (siteId: string, stop: SheetId): string => `/s/${siteId}/${stop}`

/** How the open site stands. */
export function useStanding(): () => SiteStanding {
  const site = useSite()
  const field = useField()
  const late = useLater(() => site.plan)
  return () => {
    const steps = site.analysis?.stepIds ?? []
    const count = field.proof?.body.count
    // Where no controller is planned nobody waits for anybody to call.
    const adoptable = site.model?.hasController === false ? [] : field.devices
    return {
      plan: late.value,
      counts: site.analysis?.marks ?? null,
      steps: { all: steps.length, done: steps.filter((id) => field.done.has(id)).length },
      devices: {
        all: adoptable.length,
        begun: adoptable.filter((d) => d.state !== 'planned').length,
        inService: field.devices.filter((d) => d.state === 'in-service').length,
        wrong:
          field.devices.filter((d) => d.state === 'lost' || d.state === 'drifted').length +
          field.foreign.length,
        unsent: field.unsent,
        isSending: (field.releases?.underWay.length ?? 0) > 0,
      },
      proof: count
        ? {
            contradicts: count.contradicts,
            untested: count.untested,
            isProven: count.proven,
            isCurrent: field.proofIsCurrent,
          }
        : null,
    }
  }
}

export function useStopMarks(): ComputedRef<Record<SheetId, StopMark>> {
  const standingNow = useStanding()
  return useStable(() => {
    const standing = standingNow()
    return Object.fromEntries(sheets.map((s) => [s.id, s.mark(standing)])) as Record<
      SheetId,
      StopMark
    >
  })
}
