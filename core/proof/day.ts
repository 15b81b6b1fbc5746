/** The proof ends the day: once on what runs, once on what came back from a loss of power. */
import type { DayPart } from '../bringup/day'
import { ELECTRIC } from '../bringup/step'

export const proofDay: readonly DayPart[] = [
  {
    phase: 'prove',
    steps: (day) => {
      const { model, add, gear } = day
      const proven = add({
        id: 'prove',
        kind: 'prove',
        title: 'Run the proof',
        needs: day.after('adopt', 'lay', 'cut over', 'connect', 'let in'),
        workSeconds: 300,
        follows: { kind: 'proof' },
      })
      const restarted = add({
        id: 'restart',
        kind: 'restart',
        title: 'Take the power of everything away and give it back',
        needs: [proven],
        workSeconds: 60 * gear.length,
        // What is fed over its cable starts when its feeder has.
        waitSeconds: 2 * Math.max(0, ...gear.map((d) => model.profileOf(d.id).waits.bootSeconds)),
        words: gear.map((d) => ({ label: d.name, text: 'off, then on again' })),
        safety: ELECTRIC,
        clears: 'site',
        action: { kind: 'plug', deviceIds: gear.map((d) => d.id) },
        whileWaiting: 'What was not kept is lost now, while somebody is there to see it.',
      })
      return [
        add({
          id: 'prove-again',
          kind: 'prove',
          title: 'Run the proof once more, after the restart',
          needs: [restarted],
          workSeconds: 300,
          follows: { kind: 'proof' },
        }),
      ]
    },
  },
]
