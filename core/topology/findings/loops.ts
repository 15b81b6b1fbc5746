/**
 * C-17: a loop in which a device runs no spanning tree, or whose blocked cable is the only way of
 * something.
 */
import { editCall, type Link } from '../../plan'
import { spanningTreeOf, type SiteModel } from '../../topology'
import { defineRule } from '../../findings/rule'

/**
 * The links that close a loop, each with the devices on the loop: what is left over from a spanning
 * tree grown from the gateway (Kruskal 1956).
 */
function loopsOf(model: SiteModel): { link: Link; devices: string[] }[] {
  const links = Object.values(model.plan.links)
    .sort((a, b) => (a.id < b.id ? -1 : 1))
    .map((link) => ({
      link,
      ends: [model.port(link.a).deviceId, model.port(link.b).deviceId] as const,
    }))
    .filter(
      ({ link, ends }) =>
        ends.every((d) => model.profileOf(d).vlan !== 'none') &&
        [link.a, link.b].every((p) => model.profilePortOf(p).role !== 'wan'),
    )
  const next = new Map<string, { to: string; link: Link }[]>()
  const closing: { link: Link; ends: readonly [string, string] }[] = []
  const root = new Map<string, string>()
  const find = (d: string): string => {
    const up = root.get(d) ?? d
    if (up === d) return d
    const top = find(up)
    root.set(d, top)
    return top
  }
  for (const {
    link,
    ends: [a, b],
  } of links) {
    if (find(a) === find(b)) {
      closing.push({ link, ends: [a, b] })
      continue
    }
    root.set(find(a), find(b))
    for (const [from, to] of [
      [a, b],
      [b, a],
    ] as const)
      next.set(from, [...(next.get(from) ?? []), { to, link }])
  }
  return closing.map(({ link, ends: [a, b] }) => ({ link, devices: wayBetween(next, a, b) }))
}
function wayBetween(
  next: ReadonlyMap<string, readonly { to: string }[]>,
  from: string,
  to: string,
): string[] {
  const came = new Map<string, string | null>([[from, null]])
  const queue = [from]
  for (let at = queue.shift(); at !== undefined && at !== to; at = queue.shift())
    for (const n of next.get(at) ?? [])
      if (!came.has(n.to)) {
        came.set(n.to, at)
        queue.push(n.to)
      }
  const way: string[] = []
  for (let at: string | null | undefined = to; at; at = came.get(at)) way.unshift(at)
  return way
}

export default defineRule({
  id: 'wiring/loop',
  severity: 'blocker',
  catches: ['C-17'],
  title: 'Cables make a loop',
  sheet: 'wiring',
  reads: ['devices', 'profiles', 'ports', 'links'],
  *check(model) {
    for (const { link, devices } of loopsOf(model)) {
      const { blocked, priorities, rootId } = spanningTreeOf(model)
      const plain = devices.filter((d) => !priorities.has(d))
      const shut = [...blocked]
        .filter((p) => devices.includes(model.port(p).deviceId))
        .map((p) => model.portName(p))
      const names = (ids: readonly string[]): string =>
        ids.map((d) => model.device(d).name).join(', ')
      const cut = {
        label: `Take out the cable between ${model.portName(link.a)} and ${model.portName(link.b)}`,
        edits: [editCall('removeLink', { id: link.id })],
      }
      if (plain.length === 0)
        yield {
          severity: 'note',
          subjects: [link.id, ...devices],
          text:
            `${names(devices)} are cabled in a ` +
            `loop${shut.length > 0 ? `; their spanning tree blocks ${shut.join(', ')}` : ''}.`,
          fixes: [cut],
          why:
            'What is blocked is a spare, not more throughput, and carries no VLAN; the first ' +
            'seconds after a change are silent.',
          numbers: [
            {
              label: 'root',
              value: rootId ? model.device(rootId).name : 'none',
              how: 'the lowest priority; the bridge that the site names, else the one nearest to the gateway',
            },
          ],
        }
      else
        yield {
          subjects: [link.id, ...devices],
          text:
            `${names(devices)} are cabled in a loop, and ${names(plain)} ` +
            `${plain.length === 1 ? 'runs' : 'run'} no spanning tree.`,
          fixes: [cut],
          why: 'A single broadcast circles for ever and takes the whole network with it.',
          numbers: [{ label: 'on the loop', value: `${devices.length} devices` }],
        }
    }
  },
})
