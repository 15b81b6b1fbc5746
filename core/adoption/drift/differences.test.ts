import { expect, describe, it } from 'vitest'
import { documentDifferences, differencesOf } from './differences'

describe('two documents of a device', () => {
  const plain = {
    kind: 'switch',
    name: 'S',
    page: { vlan: 10, mode: 'automatic' },
    ports: [
      { name: '1', untagged: 10, tagged: [20] },
      { name: '2', untagged: null, tagged: [] },
    ],
    controllerUrl: null,
  }
  it('differ by the names of things', () => {
    expect(
      documentDifferences(plain, {
        ...plain,
        page: { vlan: 11, mode: 'automatic' },
        ports: [
          { name: '1', untagged: 10, tagged: [20, 30] },
          { name: '3', untagged: null, tagged: [] },
        ],
      }),
    ).toEqual([
      { where: 'own page, VLAN', before: '10', after: '11' },
      { where: 'port 1, tagged VLANs', before: '20', after: '20, 30' },
      { where: 'port 2', before: 'name 2', after: 'none' },
      { where: 'port 3', before: 'none', after: 'name 3' },
    ])
  })
  it('never show a key or a password', () => {
    const ap = (key: string) => ({
      ...plain,
      networks: [{ name: 'N', key, vlan: 1 }],
      line: { password: key },
    })
    const text = JSON.stringify([
      documentDifferences(ap('first-key'), ap('second-key')),
      documentDifferences(plain, ap('second-key')),
      documentDifferences(ap('first-key'), plain),
    ])
    expect(text).not.toMatch(/first-key|second-key/)
    expect(documentDifferences(ap('first-key'), ap('second-key'))).toHaveLength(2)
  })
  it('show rules that came and went, and whether their order changed', () => {
    const rule = (name: string) => ({ chain: 'forward', from: name })
    const doc = (...names: string[]) => ({ rules: names.map(rule) })
    expect(
      documentDifferences(doc('a', 'b'), doc('a', 'c')).map((d) => [d.where, d.before === 'none']),
    ).toEqual([
      ['rule', false],
      ['rule', true],
    ])
    expect(documentDifferences(doc('a', 'b'), doc('b', 'a'))).toEqual([
      { where: 'rules', before: 'in another order', after: 'in this order' },
    ])
  })
  it('tell apart what has one name twice, and lines without a tag', () => {
    const doc = (second: string, mtu: number) => ({
      names: [
        { name: 'till', address: '10.0.0.2' },
        { name: 'till', address: second },
      ],
      lines: [
        { port: 'wan1', vlan: null, mtu: 1500 },
        { port: 'wan2', vlan: null, mtu },
      ],
    })
    expect(documentDifferences(doc('10.0.0.3', 1500), doc('10.0.0.4', 1492))).toEqual([
      { where: 'name till (2), address', before: '10.0.0.3', after: '10.0.0.4' },
      { where: 'line wan2, MTU', before: '1500', after: '1492' },
    ])
  })
  it('say when lines are used in another order, and nothing of the order of names', () => {
    const list = (...ports: string[]) => ({
      lines: ports.map((port) => ({ port })),
      names: ports.map((name) => ({ name })),
    })
    expect(differencesOf(list('a', 'b'), list('b', 'a'))).toMatchObject([
      { where: 'line', path: ['lines', 'order'], before: 'in another order' },
    ])
  })
  it('show of a whole network what is no secret', () => {
    const text = JSON.stringify(
      documentDifferences(
        { networks: [] },
        { networks: [{ name: 'N', key: 'first-key', vlan: 3 }] },
      ),
    )
    expect(text).toMatch(/VLAN 3/)
    expect(text).not.toMatch(/first-key/)
  })
  it('say where a rule stands in few letters, however much it names', () => {
    const rule = (port: number) => ({
      chain: 'forward',
      ports: Array.from({ length: 64 }, (_, i) => ({ first: port + i, last: port + i })),
    })
    const lines = differencesOf({ rules: [rule(1000)] }, { rules: [rule(2000)] })
    expect(lines).toHaveLength(2)
    expect(lines.every((d) => d.path.every((part) => part.length <= 64))).toBe(true)
  })
})
