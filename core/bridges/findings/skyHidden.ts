/** Lines by satellite: a sky that is hidden, a cable that is too short. */
import { defineRule } from '../../findings/rule'
import { hiddenShare } from '../sky/view'

/** Less than that is not noticed in a day. */
const NOTICED = 0.01

export default defineRule({
  id: 'bridges/sky-hidden',
  severity: 'caution',
  catches: [],
  title: 'A dish that does not see its sky',
  sheet: 'bridges',
  reads: ['uplinks'],
  *check({ lines }) {
    for (const line of lines) {
      if (!line.sky) continue
      const hidden = hiddenShare(line.sky)
      if (hidden >= NOTICED)
        yield {
          key: `hidden:${line.id}`,
          subjects: [line.id],
          text: `${line.name}: ${Math.round(hidden * 100)} % of the sky that its dish needs is hidden.`,
          why:
            'Satellites pass behind it: for about so much of the time the line breaks off. Put ' +
            'the dish where it sees all of it, and carry the line by a bridge.',
          fixes: [],
        }
      const short = line.sky.toSocketM - line.sky.cableM
      if (short > 0)
        yield {
          key: `cable:${line.id}`,
          subjects: [line.id],
          title: 'The cable of a dish is too short',
          text:
            `${line.name}: ${line.sky.toSocketM} m lie between its dish and what takes its cable, ` +
            `which is ${line.sky.cableM} m long and fixed to it.`,
          why:
            'It cannot be lengthened. Put its power supply and one end of a bridge within reach ' +
            'of the cable, and let the bridge carry the line.',
          numbers: [{ label: 'lacking', value: `${short.toFixed(1)} m` }],
          fixes: [],
        }
    }
  },
})
