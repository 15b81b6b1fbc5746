/**
 * The way out of a Linux router with several lines, for `ip -batch` (ip(8), ip-rule(8)): a table for
 * each line, and rules that ask them in the order that a connection bears as its mark. What writes
 * the marks is in the packet filter.
 */
import { uplinksInOrder, type SitePlan, type Uplink } from '../plan'
import type { SiteModel } from '../topology'
import { marksOf } from '../uplinks'
import { defineFormat } from './format'

/** Routing tables of the lines, one after the other. */
const FIRST_TABLE = 100
/** Rules of this file stand between these numbers. */
const FIRST_RULE = 1000

interface Routed {
  readonly line: Uplink
  readonly table: number
  readonly device: string
  /** Of its default route, behind `default`; null where a lease tells. */
  readonly way: string | null
}

/** Lines in sockets; named by their place among all, as in the packet filter. */
const routed = (plan: SitePlan): Routed[] =>
  uplinksInOrder(plan).flatMap((line, n) => {
    const { mode, gateway } = line.handOff
    const device = `line${n}`
    const way = mode === 'pppoe' ? `dev ${device}` : gateway ? `via ${gateway} dev ${device}` : null
    return line.portId === null ? [] : [{ line, table: FIRST_TABLE + n, device, way }]
  })

const plain = (text: string): string => text.replace(/[^\x20-\x7e]/g, ' ')

export function writeLineRoutes(plan: SitePlan): Record<string, string> {
  const lines = routed(plan)
  if (lines.length < 2) return {}
  const { orders } = marksOf(
    plan,
    lines.map((l) => l.line),
  )
  const tableOf = new Map(lines.map((l) => [l.line.id, l.table]))
  const rules: string[] = []
  const rule = (text: string): void => void rules.push(`pref ${FIRST_RULE + rules.length} ${text}`)
  // Networks inside come first; of the main table the default route is left out.
  rule('lookup main suppress_prefixlength 0')
  for (const { mark, lineIds } of orders) {
    for (const id of lineIds) rule(`fwmark ${mark} lookup ${tableOf.get(id)!}`)
    rule(`fwmark ${mark} unreachable`)
  }
  for (const { line, table } of lines) {
    const own = line.handOff.mode === 'fixed' ? line.handOff.address?.split('/')[0] : undefined
    if (own) {
      rule(`from ${own} lookup ${table}`)
      rule(`from ${own} unreachable`)
    }
  }
  // What the router asks for itself.
  for (const { table } of lines) rule(`lookup ${table}`)

  const route = ({ way, table }: Routed): string | null =>
    way && `route replace default ${way} table ${table}`
  const files: Record<string, string> = {
    'lines.batch': [
      `# ${plain(plan.site.name)}: load it with ip -batch; lines-away.batch takes it out again.`,
      '# Reverse path filters have to be off or loose (net.ipv4.conf.all.rp_filter = 0 or 2), and',
      '# net.ipv4.conf.all.ignore_routes_with_linkdown = 1 leaves a line at once that has no signal.',
      ...lines.map(
        (l) =>
          route(l) ??
          `# ${l.device}, ${plain(l.line.name)}: have its DHCP client put the default route of the ` +
            `lease into table ${l.table}.`,
      ),
      ...rules.map((r) => `rule add ${r}`),
      '',
    ].join('\n'),
    'lines-away.batch': [
      ...rules.map((_, n) => `rule del pref ${FIRST_RULE + n}`),
      ...lines.map((l) => `route flush table ${l.table}`),
      '',
    ].join('\n'),
  }
  for (const l of lines) {
    files[`${l.line.id}-out.batch`] = `route flush table ${l.table}\n`
    const back = route(l)
    if (back) files[`${l.line.id}-back.batch`] = `${back}\n`
  }
  return files
}

export const lineRoutes = defineFormat({
  id: 'line-routes',
  title: 'Linux routes (several lines)',
  sheet: 'uplinks',
  files: 'lines.batch for ip -batch, and what takes each line out and back',
  mediaType: 'text/plain',
  write: ({ model }: { model: SiteModel }) => writeLineRoutes(model.plan),
  nothing: 'the plan has fewer than two lines in sockets',
})
