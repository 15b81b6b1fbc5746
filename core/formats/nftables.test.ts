import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { applyEdits } from '../plan'
import { writeNftables } from '.'

describe('the nftables script', () => {
  const script = writeNftables(quayside())
  /** What stands in one chain. */
  const chain = (text: string, name: string): string => new RegExp(`chain ${name} \\{\n([^}]*(?:\\{[^}]*\\}[^}]*)*?)\n  \\}`).exec(text)?.[1] ?? ''

  it('drops by default, lets replies through, and names its interfaces by VLAN', () => {
    expect(script.match(/policy drop;/g)).toHaveLength(2)
    for (const name of ['input', 'forward']) expect(chain(script, name)).toContain('ct state established,related counter accept')
    expect(script).toMatch(/chain from_vlan20_\d \{[^}]*oifname "vlan40" ct state new tcp dport 554 counter accept comment "int-office-net-cameras: the office watches the quay"/)
    expect(chain(script, 'input')).toContain('iifname "vlan10" ct state new tcp dport { 22, 443 } counter accept comment "only management opens device pages"')
  })
  it('has one table for both families, in which no rule stands twice', () => {
    expect(script.match(/^table \S+ \S+ \{/gm)).toEqual(['table inet able_mast {'])
    for (const body of script.split('  chain ').slice(1)) {
      const lines = body.split('\n').slice(1).filter((l) => l.startsWith('    '))
      expect(new Set(lines).size).toBe(lines.length)
    }
  })
  it('counts every verdict, and logs what is dropped at the end now and then', () => {
    for (const line of script.split('\n').filter((l) => /^ {4}.*\b(accept|drop) comment/.test(l))) expect(line).toContain(' counter ')
    for (const name of ['spoofed', 'refused']) expect(chain(script, name)).toMatch(/limit rate \d+\/minute burst \d+ packets log prefix "able_mast/)
  })
  it('translates on the line, and only what comes from inside', () => {
    expect(chain(script, 'leaving')).toContain('oifname "line0" ip saddr @inside_ipv4 masquerade')
    expect(script).toMatch(/set inside_ipv4 \{[^}]*elements = \{ 10\.20\.10\.0\/\d+, 10\.20\.20\.0\/24, /)
  })
  it('tells TCP of a line that takes less than the segments, in both directions, and of no other', () => {
    expect(script).not.toContain('maxseg')
    const narrow = writeNftables(applyEdits(quayside(), [{ name: 'recordHandOff', args: { uplinkId: 'fibre', facts: { mode: 'pppoe', mtu: null } } }]))
    // RFC 2516 7: 1492 octets, less 40 for IPv4 with TCP and 60 for IPv6.
    for (const way of ['iifname', 'oifname']) for (const [family, size] of [['ipv4', 1452], ['ipv6', 1432]]) expect(chain(narrow, 'clamping')).toContain(`${way} "line0" meta nfproto ${family} tcp flags & (syn | rst) == syn tcp option maxseg size set ${size}`)
  })
  it('replaces its own table and no other', () => expect(script.split('\n').filter((l) => /^(delete )?table/.test(l))).toEqual(['table ip able_mast', 'delete table ip able_mast', 'table inet able_mast', 'delete table inet able_mast', 'table inet able_mast {']))
  it('a reason cannot break out of its comment', () => {
    const plan = applyEdits(quayside(), [{ name: 'stateIntent', args: { id: 'evil', from: 'visitors', to: 'cameras', services: 'any', action: 'deny', reason: 'x" accept; }\nchain y { "é\\' } }])
    const line = writeNftables(plan).split('\n').find((l) => l.includes('evil: '))!
    expect(line).toMatch(/^ {4}oifname "vlan40" ct state new counter drop comment "[^"\\\n]*"$/)
  })
})
