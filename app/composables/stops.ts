/** The stops of the line in the browser: where they are, and the mark of each. */
import { sheets, type SheetId, type SiteStanding, type StopMark } from '@mast/core/sheets'

export const stopPath = (siteId: string, stop: SheetId): string => `/s/${siteId}/${stop}`

export function useStopMarks(): ComputedRef<Record<SheetId, StopMark>> {
  const site = useSite()
  const field = useField()
  const late = useLater(() => site.plan)
  return useStable(() => {
    const steps = site.analysis?.stepIds ?? []
    const done = new Set(field.steps.map((s) => s.stepId))
    const count = field.proof?.body.count
    const standing: SiteStanding = {
      plan: late.value,
      counts: site.analysis?.marks ?? null,
      steps: { all: steps.length, done: steps.filter((id) => done.has(id)).length },
      devices: {
        all: field.devices.length,
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
            isProven: count.proven,
            isCurrent: field.proofIsCurrent,
          }
        : null,
    }
    return Object.fromEntries(sheets.map((s) => [s.id, s.mark(standing)])) as Record<
      SheetId,
      StopMark
    >
  })
}
