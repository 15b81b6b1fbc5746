/**
 * The rules of a site for a Linux gateway, as an nftables script (nft(8)): filter chains with connection state, and translation on the line. Loading it
 * replaces the tables of an earlier one and touches no others.
 */
import type { Place, SitePlan } from '../plan'
import { compilePolicy, type Rule } from '../policy'

export interface InterfaceNames {
  /** The interface that a segment has on the gateway; at most 15 characters (IFNAMSIZ). */
  segment(segmentId: string): string
  readonly line: string
}

/** VLAN interfaces by number, as is usual on Linux. */
export const vlanInterfaces = (plan: SitePlan): InterfaceNames => ({ segment: (id) => `vlan${plan.segments[id]!.vlanId}`, line: 'line0' })

const quote = (text: string): string => `"${text.replace(/[^\x20-\x7e]|["\\]/g, ' ').slice(0, 120)}"`

export function writeNftables(plan: SitePlan, names: InterfaceNames = vlanInterfaces(plan)): string {
  const { rules, masquerade } = compilePolicy(plan)
  const interfaceOf = (place: Place): string => (place === 'internet' ? names.line : names.segment(place))
  const set = (places: readonly Place[]): string => (places.length === 1 ? quote(interfaceOf(places[0]!)) : `{ ${places.map((p) => quote(interfaceOf(p))).join(', ')} }`)
  const line = (r: Rule): string => [
    r.from === 'any' ? '' : `iifname ${set(r.from)}`,
    r.chain === 'input' || r.to === 'any' ? '' : `oifname ${set(r.to)}`,
    r.state === 'established' ? 'ct state established,related' : `ct state ${r.state}`,
    r.protocol === 'any' ? '' : r.protocol === 'icmp' ? 'icmp type echo-request' : r.ports.length === 0 ? `meta l4proto ${r.protocol}` : `${r.protocol} dport { ${r.ports.join(', ')} }`,
    r.verdict, `comment ${quote(r.text)}`,
  ].filter(Boolean).join(' ')
  const chain = (name: Rule['chain']): string[] => [
    `  chain ${name} {`, `    type filter hook ${name} priority filter; policy drop;`, ...(name === 'input' ? ['    iifname "lo" accept'] : []),
    ...rules.filter((r) => r.chain === name).map((r) => `    ${line(r)}`), '  }',
  ]
  const inside = masquerade.flatMap((id) => (plan.segments[id]!.subnet ? [plan.segments[id]!.subnet!] : []))
  return [
    `# ${plan.site.name.replace(/[^\x20-\x7e]/g, ' ')}`,
    'table ip able_mast', 'delete table ip able_mast', 'table ip able_mast {', ...chain('input'), '', ...chain('forward'), '',
    '  chain leaving {', '    type nat hook postrouting priority srcnat; policy accept;',
    ...(inside.length > 0 ? [`    oifname ${quote(names.line)} ip saddr { ${inside.join(', ')} } masquerade`] : []), '  }', '}', '',
  ].join('\n')
}
