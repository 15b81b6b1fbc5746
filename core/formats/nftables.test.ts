import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { applyEdits } from '../plan'
import { writeNftables } from '.'

describe('the nftables script', () => {
  const script = writeNftables(quayside())
  it('drops by default, lets replies through, and names its interfaces by VLAN', () => {
    expect(script.match(/policy drop;/g)).toHaveLength(2)
    expect(script).toContain('ct state established,related accept')
    expect(script).toContain('iifname "vlan20" oifname "vlan40" ct state new tcp dport { 554 } accept comment "the office watches the quay"')
    expect(script).toContain('iifname "vlan10" ct state new tcp dport { 22, 443 } accept comment "only management opens device pages"')
  })
  it('translates on the line, and only what comes from inside', () => expect(script).toMatch(/oifname "line0" ip saddr \{ 10\.20\.10\.0\/\d+, 10\.20\.20\.0\/24, .* \} masquerade/))
  it('replaces its own table and no other', () => expect(script.split('\n').slice(1, 4)).toEqual(['table ip able_mast', 'delete table ip able_mast', 'table ip able_mast {']))
  it('a reason cannot break out of its comment', () => {
    const plan = applyEdits(quayside(), [{ name: 'stateIntent', args: { id: 'evil', from: 'visitors', to: 'cameras', services: 'any', action: 'deny', reason: 'x" accept; }\nchain y { "é\\' } }])
    const line = writeNftables(plan).split('\n').find((l) => l.includes('vlan90" oifname "vlan40"'))!
    expect(line).toMatch(/ drop comment "[^"\\\n]*"$/)
  })
})
