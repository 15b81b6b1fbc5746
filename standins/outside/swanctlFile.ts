/** What the daemon of another end reads of the file that it was given, as swanctl.conf(5) nests it. */
import { spansIn } from '../tunnels/span'
import type { IkeSetup } from '../tunnels/ikeEnd'

type Section = Map<string, string | Section>

/** A line opens a section, closes one or sets a value; what is behind # is passed over. */
function sectionsOf(text: string): Section {
  const root: Section = new Map()
  const open: Section[] = [root]
  for (const line of text.split('\n').map((l) => l.replace(/#.*/, '').trim())) {
    const begun = /^(\S+)\s*\{$/.exec(line)
    const set = /^(\S+)\s*=\s*"?(.*?)"?$/.exec(line)
    if (begun) {
      const section: Section = new Map()
      open.at(-1)!.set(begun[1]!, section)
      open.push(section)
    } else if (line === '}') open.pop()
    else if (set) open.at(-1)!.set(set[1]!, set[2]!)
  }
  return root
}
const within = (s: Section | undefined, name: string): Section | undefined => {
  const found = s?.get(name)
  return found instanceof Map ? found : undefined
}
const first = (s: Section | undefined): Section | undefined =>
  [...(s?.values() ?? [])].find((v): v is Section => v instanceof Map)
const text = (s: Section | undefined, name: string): string => {
  const found = s?.get(name)
  return typeof found === 'string' ? found : ''
}
const spans = (list: string): IkeSetup['local'] => spansIn(list.split(',').map((t) => t.trim()))

export type IkeFile = Omit<IkeSetup, 'mtu'>

/** Of the first connection in it; undefined where there is none. */
export function readIkeFile(file: string): IkeFile | undefined {
  const root = sectionsOf(file)
  const connection = first(within(root, 'connections'))
  const child = first(within(connection, 'children'))
  if (!connection || !child) return undefined
  const secret = text(first(within(root, 'secrets')), 'secret')
  return {
    proposal: text(connection, 'proposals'),
    childProposal: text(child, 'esp_proposals'),
    localId: text(within(connection, 'local'), 'id'),
    remoteId: text(within(connection, 'remote'), 'id'),
    local: spans(text(child, 'local_ts')),
    remote: spans(text(child, 'remote_ts')),
    sharedKey: secret.startsWith('0x')
      ? Buffer.from(secret.slice(2), 'hex').toString('utf8')
      : secret || null,
    host: text(connection, 'remote_addrs') || null,
  }
}
