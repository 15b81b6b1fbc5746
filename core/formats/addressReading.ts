/** What an address file of any kind does to a plan, as every format tells it. */
import type { SitePlan } from '../plan'
import type { Reading } from './format'
import { importOf, type AddressFile } from './segmentRows'

const counted = (n: number, one: string, many: string): string =>
  n === 0 ? '' : `${n} ${n === 1 ? one : many}`

export function addressReading(plan: SitePlan, file: AddressFile): Reading {
  const { edits, adds, changes, same, hosts, strangers, contradictions } = importOf(plan, file)
  const said = [
    counted(adds, 'new segment', 'new segments'),
    counted(changes, 'changed', 'changed'),
    counted(same, 'the same', 'the same'),
    counted(hosts, 'device gets another address', 'devices get other addresses'),
  ]
  return {
    edits,
    said: said.filter(Boolean).join(', ') || 'nothing',
    problems: [...file.problems, ...contradictions],
    leftOut: file.leftOut,
    newcomers: strangers.map(({ fact, takeIn }) => ({
      line: fact.line,
      column: 1,
      takeIn,
      reason:
        `${[fact.name, fact.hardwareAddress].filter(Boolean).join(', ')} ${fact.address ?? ''} ` +
        `is no device of the plan${takeIn ? '' : ', and its address lies in no segment'}`,
    })),
  }
}

/** The name of a file without its folder and what it ends in. */
export const stemOf = (fileName: string): string =>
  fileName.replace(/^.*[\\/]/, '').replace(/\.[^.]*$/, '')
