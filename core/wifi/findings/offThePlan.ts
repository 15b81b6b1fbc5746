/** What lies beyond the edges of its plan of the place: it is reckoned with, and nobody sees it. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'
import { listWords } from '../../words'

const MOST_METRES = 5000
/** So many are named. */
const NAMED = 3

interface Thing {
  readonly id: string
  readonly name: string
  readonly points: readonly { readonly x: number; readonly y: number }[]
}

export default defineRule({
  id: 'wifi/off-the-plan',
  severity: 'caution',
  catches: [],
  title: 'Something lies outside its plan of the place',
  sheet: 'wifi',
  reads: ['floors', 'devices', 'walls', 'areas', 'walks'],
  *check(model) {
    const { floors, devices, walls, areas, walks } = model.plan
    const byFloor = new Map<string, Thing[]>()
    const put = (floorId: string, thing: Thing): void => {
      const list = byFloor.get(floorId)
      if (list) list.push(thing)
      else byFloor.set(floorId, [thing])
    }
    for (const d of Object.values(devices))
      if (d.place) put(d.place.floorId, { id: d.id, name: d.name, points: [d.place] })
    for (const w of Object.values(walls))
      put(w.floorId, { id: w.id, name: `a wall of ${w.material}`, points: w.points })
    for (const a of Object.values(areas))
      put(a.floorId, { id: a.id, name: a.name, points: a.points })
    for (const w of Object.values(walks))
      put(w.floorId, { id: w.id, name: 'readings', points: w.readings })
    for (const floor of Object.values(floors)) {
      const isOff = ({ x, y }: Thing['points'][number]): boolean =>
        x < 0 || y < 0 || x > floor.widthM || y > floor.depthM
      const things: Thing[] = [
        ...(byFloor.get(floor.id) ?? []),
        { id: floor.id, name: 'an outlet', points: floor.outlets },
      ]
      const off = things.filter((t) => t.points.some(isOff))
      if (off.length === 0) continue
      const points = off.flatMap((t) => t.points)
      const [right, bottom] = [
        Math.ceil(points.reduce((most, p) => Math.max(most, p.x), floor.widthM)),
        Math.ceil(points.reduce((most, p) => Math.max(most, p.y), floor.depthM)),
      ]
      const mayGrow =
        points.every((p) => p.x >= 0 && p.y >= 0) && Math.max(right, bottom) <= MOST_METRES
      const names = off.slice(0, NAMED).map((t) => t.name)
      const rest = off.length - names.length
      yield {
        key: floor.id,
        subjects: [floor.id, ...off.map((t) => t.id).filter((id) => id !== floor.id)],
        text:
          `${listWords(rest > 0 ? [...names, `${rest} more`] : names)} ` +
          `${off.length === 1 ? 'lies' : 'lie'} outside ${floor.name}, which is ` +
          `${floor.widthM} x ${floor.depthM} m.`,
        why: 'It is reckoned with where it lies, and nobody sees it on the drawing.',
        fixes: mayGrow
          ? [
              {
                label: `Make ${floor.name} ${right} x ${bottom} m`,
                edits: [
                  editCall('changeFloor', {
                    id: floor.id,
                    changes: { widthM: right, depthM: bottom },
                  }),
                ],
              },
            ]
          : [],
      }
    }
  },
})
