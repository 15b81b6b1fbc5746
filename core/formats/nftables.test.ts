import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { editCall, applyEdits, type EditCall } from '../plan'
import { writeNftables } from '.'

describe('the nftables script', () => {
  const script = writeNftables(quayside())
  /** What stands in one chain. */
  const chain = (text: string, name: string): string =>
    new RegExp(`chain ${name} \\{\n([^}]*(?:\\{[^}]*\\}[^}]*)*?)\n  \\}`).exec(text)?.[1] ?? ''

  it('drops by default, lets replies through, and names its interfaces by VLAN', () => {
    expect(script.match(/policy drop;/g)).toHaveLength(2)
    for (const name of ['input', 'forward'])
      expect(chain(script, name)).toContain('ct state established,related counter accept')
    expect(script).toMatch(
      /chain from_vlan20_\d \{[^}]*oifname "vlan40" ct state new tcp dport 554 counter accept comment "int-office-net-cameras: the office watches the quay"/,
    )
    expect(chain(script, 'input')).toContain(
      'iifname "vlan10" ct state new tcp dport { 22, 443 } counter accept comment "only management opens device pages"',
    )
  })
  it('has one table for both families, in which no rule stands twice', () => {
    expect(script.match(/^table \S+ \S+ \{/gm)).toEqual(['table inet able_mast {'])
    for (const body of script.split('  chain ').slice(1)) {
      const lines = body
        .split('\n')
        .slice(1)
        .filter((l) => l.startsWith('    '))
      expect(new Set(lines).size).toBe(lines.length)
    }
  })
  it('counts every verdict, and logs what is dropped at the end now and then', () => {
    for (const line of script.split('\n').filter((l) => /^ {4}.*\b(accept|drop) comment/.test(l)))
      expect(line).toContain(' counter ')
    for (const name of ['spoofed', 'refused'])
      expect(chain(script, name)).toMatch(
        /limit rate \d+\/minute burst \d+ packets log prefix "able_mast/,
      )
  })
  it('translates on the line, and only what comes from inside', () => {
    expect(chain(script, 'leaving')).toContain('oifname "line0" ip saddr @inside_ipv4 masquerade')
    expect(script).toMatch(
      /set inside_ipv4 \{[^}]*elements = \{ 10\.20\.10\.0\/\d+, 10\.20\.20\.0\/24, /,
    )
  })
  it('tells TCP of a line that takes less than the segments, in both directions, and of no other', () => {
    expect(script).not.toContain('maxseg')
    const narrow = writeNftables(
      applyEdits(quayside(), [
        editCall('recordHandOff', { uplinkId: 'fibre', facts: { mode: 'pppoe', mtu: null } }),
      ]),
    )
    // RFC 2516 7: 1492 octets, less 40 for IPv4 with TCP and 60 for IPv6.
    for (const way of ['iifname', 'oifname'])
      for (const [family, size] of [
        ['ipv4', 1452],
        ['ipv6', 1432],
      ])
        expect(chain(narrow, 'clamping')).toContain(
          `${way} "line0" meta nfproto ${family} tcp flags & (syn | rst) == syn tcp option maxseg size set ${size}`,
        )
  })
  it('replaces its own table and no other', () =>
    expect(script.split('\n').filter((l) => /^(delete )?table/.test(l))).toEqual([
      'table ip able_mast',
      'delete table ip able_mast',
      'table inet able_mast',
      'delete table inet able_mast',
      'table inet able_mast {',
    ]))
  it('a reason cannot break out of its comment', () => {
    const plan = applyEdits(quayside(), [
      editCall('stateIntent', {
        id: 'evil',
        from: 'visitors',
        to: 'cameras',
        services: 'any',
        action: 'deny',
        reason: 'x" accept; }\nchain y { "é\\',
      }),
    ])
    const line = writeNftables(plan)
      .split('\n')
      .find((l) => l.includes('evil: '))!
    expect(line).toMatch(/^ {4}oifname "vlan40" ct state new counter drop comment "[^"\\\n]*"$/)
  })

  it('writes hours as spans of UTC days, whatever the zone of who loads them', () => {
    const hours = { days: [1, 2], fromMinute: 0, toMinute: 480 }
    const plan = applyEdits(quayside(), [
      editCall('stateIntent', {
        id: 'early',
        from: 'cameras',
        to: 'internet',
        services: ['svc-web'],
        action: 'allow',
        hours,
      }),
    ])
    const lines = (utcOffset: number): string[] =>
      writeNftables(plan, { utcOffset })
        .split('\n')
        .filter((l) => l.includes('"early: '))
        .map((l) => /meta day.*(?= counter)/.exec(l)![0])
    expect(lines(0)).toEqual(['meta day { "Monday", "Tuesday" } meta hour 0-28799'])
    // An hour ahead of UTC, the first hour of the week there is the last of Sunday here.
    expect(lines(60)).toEqual([
      'meta day { "Monday", "Sunday" } meta hour 82800-86399',
      'meta day { "Monday", "Tuesday" } meta hour 0-25199',
    ])
    expect(lines(-480)).toEqual(['meta day { "Monday", "Tuesday" } meta hour 28800-57599'])
  })
  it('leads ports of the line to their hosts, and turns round who asks from the same segment', () => {
    const plan = applyEdits(quayside(), [
      editCall('addForward', {
        id: 'led',
        name: 'Prints',
        protocol: 'tcp',
        outside: { first: 8631, last: 8631 },
        deviceId: 'printer',
        inside: 631,
        reason: '',
      }),
      editCall('addForward', {
        id: 'led-all',
        name: 'Several',
        protocol: 'udp',
        outside: { first: 5000, last: 5009 },
        deviceId: 'printer',
        inside: 5000,
        reason: '',
      }),
    ])
    const script = writeNftables(plan)
    const { address } = plan.devices.printer!.addressing
    expect(script).toMatch(
      new RegExp(
        `fib daddr type local ip daddr != \\{ [^}]+ \\} tcp dport 8631 counter dnat ip to ${address}:631 `,
      ),
    )
    expect(script).toMatch(new RegExp(`udp dport 5000-5009 counter dnat ip to ${address} `))
    expect(script).toMatch(/oifname "vlan20" ip saddr 10\.20\.20\.0\/24 ct status dnat masquerade/)
    expect(script).toMatch(
      /ip daddr @of_printer_ipv4 ct state new ct status dnat tcp dport 631 counter accept/,
    )
  })
  it('gives lists that would be written alike names of their own', () => {
    const of = (id: string): EditCall =>
      editCall('addDevice', {
        id,
        name: id,
        profileId: 'wired-host',
        addressing: {
          mode: 'fixed',
          segmentId: 'office-net',
          address: id === 'a-b' ? '10.20.20.3' : '10.20.20.4',
          gateway: '10.20.20.1',
        },
      })
    const script = writeNftables(
      applyEdits(quayside(), [
        of('a-b'),
        of('a.b'),
        ...['a-b', 'a.b'].map((id): EditCall =>
          editCall('stateIntent', {
            id: `i-${id}`,
            from: id,
            to: 'cameras',
            services: 'any',
            action: 'allow',
          }),
        ),
      ]),
    )
    expect([...script.matchAll(/set (of_a_b\S*) \{/g)].map((m) => m[1])).toEqual([
      'of_a_b_ipv4',
      'of_a_b_2_ipv4',
    ])
  })
})
