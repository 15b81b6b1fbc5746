/**
 * Private ranges that one meets everywhere, so that a tunnel from there to a site with the same
 * numbers cannot work. Common practice, from memory.
 */
import { overlaps, prefix, type Prefix } from './prefix'

export interface UsualRange {
  readonly prefix: Prefix
  readonly met: string
}
const row = (text: string, met: string): UsualRange => ({ prefix: prefix(text), met })

export const usualRanges: readonly UsualRange[] = [
  row('192.168.0.0/24', 'routers at home and from providers'),
  row('192.168.1.0/24', 'routers at home and from providers'),
  row('192.168.2.0/24', 'routers from providers'),
  row('192.168.8.0/24', 'cellular routers'),
  row('192.168.100.0/24', 'cable modems'),
  row('192.168.122.0/24', 'virtual machines on a laptop'),
  row('10.0.0.0/24', 'routers at home, the first that everybody picks'),
  row('10.0.1.0/24', 'the second that everybody picks'),
  row('10.1.0.0/16', 'company networks that began with one'),
  row('172.16.0.0/24', 'company networks'),
  row('172.17.0.0/16', 'containers on a host'),
]

/** The usual ranges that a prefix would collide with. */
export const usualCollisions = (p: Prefix): UsualRange[] =>
  usualRanges.filter((u) => overlaps(u.prefix, p))
