/** The line of stops, from left to right, with the mark of each. */
import type { Sheet } from '@mast/core/findings'
import { runSheetOf } from '@mast/core/bringup'

export type StopId =
  | 'survey'
  | 'addresses'
  | 'wiring'
  | 'wifi'
  | 'policy'
  | 'bring-up'
  | 'adopt'
  | 'prove'
  | 'hand-over'
export interface Stop {
  readonly id: StopId
  readonly name: string
  readonly number: number
}
export type StopMark =
  | { kind: 'nothing'; word: string }
  | { kind: 'blockers' | 'cautions'; count: number; word: string }
  | { kind: 'clear' | 'proven'; word: string }
  | { kind: 'progress'; word: string }

export const stops: readonly Stop[] = (
  [
    ['survey', 'Survey'],
    ['addresses', 'Addresses'],
    ['wiring', 'Wiring'],
    ['wifi', 'Wi-Fi'],
    ['policy', 'Policy'],
    ['bring-up', 'Bring-up'],
    ['adopt', 'Adopt'],
    ['prove', 'Prove'],
    ['hand-over', 'Hand over'],
  ] as const
).map(([id, name], i) => ({ id, name, number: i + 1 }))

export const stopPath = (siteId: string, stop: StopId): string => `/s/${siteId}/${stop}`

export function useStopMarks(): ComputedRef<Record<StopId, StopMark>> {
  const site = useSite()
  const field = useField()
  const late = useLater(() => site.model)
  return useStable(() => {
    const model = late.value
    const plan = model?.plan
    const marks = {} as Record<StopId, StopMark>
    const filled: Record<Sheet, boolean> = {
      survey: !!plan && Object.keys(plan.devices).length > 0,
      addresses: !!plan && Object.values(plan.segments).some((s) => s.subnet),
      wiring: !!plan && Object.keys(plan.links).length > 0,
      wifi: !!plan && Object.keys(plan.wirelessNetworks).length > 0,
      policy: !!plan && Object.keys(plan.intents).length > 0,
    }
    for (const sheet of ['survey', 'addresses', 'wiring', 'wifi', 'policy'] as const) {
      const m = site.analysis?.marks[sheet]
      marks[sheet] =
        m && m.blockers > 0
          ? { kind: 'blockers', count: m.blockers, word: `${m.blockers} to mend` }
          : m && m.cautions > 0
            ? { kind: 'cautions', count: m.cautions, word: `${m.cautions} to weigh` }
            : filled[sheet]
              ? { kind: 'clear', word: 'clear' }
              : { kind: 'nothing', word: 'nothing yet' }
    }
    const steps = model ? runSheetOf(model) : []
    const done = new Set(field.steps.map((s) => s.stepId))
    const ticked = steps.filter((s) => done.has(s.id)).length
    marks['bring-up'] =
      ticked === 0
        ? { kind: 'nothing', word: 'nothing yet' }
        : ticked === steps.length
          ? { kind: 'clear', word: 'done' }
          : { kind: 'progress', word: `${ticked} of ${steps.length}` }
    const inService = field.devices.filter((d) => d.state === 'in-service').length
    const wrong =
      field.devices.filter((d) => d.state === 'lost' || d.state === 'drifted').length +
      field.foreign.length
    marks.adopt =
      wrong > 0
        ? { kind: 'cautions', count: wrong, word: `${wrong} to look at` }
        : field.releases?.underWay.length
          ? { kind: 'progress', word: 'sending' }
          : field.unsent > 0
            ? { kind: 'cautions', count: field.unsent, word: `${field.unsent} unsent` }
            : inService === 0
              ? { kind: 'nothing', word: 'nothing yet' }
              : inService === field.devices.length
                ? { kind: 'clear', word: 'all in' }
                : { kind: 'progress', word: `${inService} of ${field.devices.length}` }
    const p = field.proof
    const current = field.proofIsCurrent
    marks.prove = !p
      ? { kind: 'nothing', word: 'nothing yet' }
      : p.body.count.contradicts > 0
        ? {
            kind: 'blockers',
            count: p.body.count.contradicts,
            word: `${p.body.count.contradicts} contradict`,
          }
        : p.body.count.proven && current
          ? { kind: 'proven', word: 'proven' }
          : { kind: 'progress', word: current ? 'in part' : 'older plan' }
    marks['hand-over'] =
      marks.prove.kind === 'proven'
        ? { kind: 'clear', word: 'ready' }
        : { kind: 'nothing', word: 'not yet' }
    return marks
  })
}
