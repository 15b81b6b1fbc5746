/** The proof ends the day. */
import type { DayPart } from '../bringup/day'

export const proofDay: readonly DayPart[] = [
  {
    phase: 'prove',
    steps: (day) => [
      day.add({
        id: 'prove',
        kind: 'prove',
        title: 'Run the proof, then once more after a restart',
        needs: day.after('adopt', 'lay', 'cut over', 'connect'),
        workSeconds: 300,
      }),
    ],
  },
]
