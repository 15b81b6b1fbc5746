/** Runs the benchmarks that are asked for, or all; writes them as a table or as JSON. */
import { addresses } from './addresses'
import { analysis } from './analysis'
import { bridges } from './bridges'
import { browser, type TaskRow } from './browser'
import { controller } from './controller'
import { days } from './days'
import { place } from './place'
import { roll } from './roll'
import { standins } from './standins'
import { tunnels } from './tunnels'
import { uplinks } from './uplinks'
import { wifi } from './wifi'
import type { Row } from './measure'

const all: Record<
  string,
  () => Promise<{ rows: Row[]; scripts?: { name: string; kb: number }[]; tasks?: TaskRow[] }>
> = {
  addresses: async () => ({ rows: addresses() }),
  analysis: async () => ({ rows: analysis() }),
  standins: async () => ({ rows: await standins() }),
  uplinks: async () => ({ rows: uplinks() }),
  wifi: async () => ({ rows: wifi() }),
  bridges: async () => ({ rows: bridges() }),
  tunnels: async () => ({ rows: await tunnels() }),
  days: async () => ({ rows: days() }),
  place,
  roll: async () => ({ rows: await roll() }),
  controller: async () => ({ rows: await controller() }),
  browser,
}
const args = process.argv.slice(2)
const names = args.filter((a) => !a.startsWith('--'))
const unknown = names.find((n) => !all[n])
if (unknown) {
  console.error(`there is no benchmark '${unknown}'; known are ${Object.keys(all).join(', ')}`)
  process.exit(1)
}
const rows: Row[] = []
let scripts: { name: string; kb: number }[] = []
let tasks: TaskRow[] = []
for (const name of names.length > 0 ? names : Object.keys(all)) {
  const result = await all[name]!()
  rows.push(...result.rows)
  scripts = result.scripts ?? scripts
  tasks = result.tasks ?? tasks
}
if (args.includes('--json')) console.log(JSON.stringify({ rows, scripts, tasks }, null, 2))
else {
  console.table(
    Object.fromEntries(
      rows.map((r) => [
        r.name,
        {
          value: `${r.value} ${r.unit}`,
          beside: `${r.referenceValue}  ${r.reference}`,
          ratio: r.ratio,
          aim: r.aim,
          met: r.met ? 'yes' : 'no',
        },
      ]),
    ),
  )
  if (tasks.length > 0)
    console.table(
      Object.fromEntries(
        tasks.map((t) => [
          t.name,
          {
            ms: t.leastMs.toFixed(1),
            'worst round': t.worstMs.toFixed(1),
            'processor, ms': t.cpuMs.toFixed(1),
            'its worst round': t.worstCpuMs.toFixed(1),
          },
        ]),
      ),
    )
  if (scripts.length > 0)
    console.log(
      'JavaScript before the first ' +
        `sheet:\n${scripts.map((s) => `  ${s.kb.toFixed(1).padStart(7)} kB  ${s.name}`).join('\n')}`,
    )
}
process.exit(0)
