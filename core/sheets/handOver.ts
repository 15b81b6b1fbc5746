/** What keeps from handing a site over, and on which sheet it is done. */
import type { SiteStanding } from './sheet'

export interface StillOpen {
  readonly text: string
  readonly sheet: 'bring-up' | 'adopt' | 'prove' | null
}
const count = (n: number, one: string, more: string): string => `${n} ${n === 1 ? one : more}`

/** Nothing where it can be handed over. */
export function stillOpen({ counts, steps, devices, proof }: SiteStanding): StillOpen[] {
  const blockers = Object.values(counts ?? {}).reduce((n, c) => n + c.blockers, 0)
  const open: (StillOpen | false)[] = [
    blockers > 0 && {
      text: `${count(blockers, 'blocker is', 'blockers are')} in the plan`,
      sheet: null,
    },
    steps.done < steps.all && {
      text: `${count(steps.all - steps.done, 'step of the run sheet is', 'steps of the run sheet are')} not done`,
      sheet: 'bring-up',
    },
    devices.wrong > 0 && {
      text: `${count(devices.wrong, 'device is', 'devices are')} lost, drifted or unknown`,
      sheet: 'adopt',
    },
    devices.unsent > 0 && {
      text: `changes for ${count(devices.unsent, 'device', 'devices')} were not sent`,
      sheet: 'adopt',
    },
    !proof && { text: 'the proof has not run', sheet: 'prove' },
    !!proof &&
      !proof.isCurrent && { text: 'the proof is of an older plan than this', sheet: 'prove' },
    !!proof &&
      proof.contradicts > 0 && {
        text:
          `${count(proof.contradicts, 'result of the proof contradicts', 'results of the proof contradict')} ` +
          'the plan',
        sheet: 'prove',
      },
    !!proof &&
      proof.untested > 0 && {
        text: `${count(proof.untested, 'test of the proof', 'tests of the proof')} could not be tried`,
        sheet: 'prove',
      },
  ]
  return open.filter((o) => o !== false)
}
