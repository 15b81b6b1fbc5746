/** Plays ten years of a site, again and again, so that it can be watched and stopped. */
import { expose } from 'comlink'
import { playYears, type YearsPlayed } from '@mast/core/uplinks'
import { chanceOf } from '@mast/core/generator'

type Given = Parameters<typeof playYears>

const worker = {
  /** @param told called after each history; false ends it */
  async play(
    lines: Given[0],
    back: Given[1],
    switchSeconds: number,
    years: number,
    histories: number,
    told: (played: YearsPlayed) => Promise<boolean>,
  ): Promise<void> {
    for (let n = 0; n < histories; n++) {
      const chance = chanceOf(n + 1)
      const played = playYears(lines, back, switchSeconds, years, () => chance.next())
      if (!(await told(played))) return
    }
  },
}
export type YearsWorker = typeof worker
expose(worker)
