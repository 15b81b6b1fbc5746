/**
 * What comes in from outside: leases and neighbours, address plans, and everything that can be
 * wrong with them.
 */
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { editCall, applyEdits, createPlan } from '../plan'
import {
  formatOf,
  decodeText,
  importOf,
  MAX_CSV_ROWS,
  readAddressCsv,
  netplanAddresses,
  zoneAddresses,
  readCsv,
  readDnsmasq,
  readEquipmentCsv,
  readKea,
  readNetplan,
  readSightings,
  readZone,
  writeCsv,
} from '.'

const said = (problems: readonly { line: number; column?: number; reason: string }[]): string =>
  problems.map((p) => `${p.line}: ${p.reason}`).join('\n')

describe('what was seen on the wire', () => {
  it.each([
    [
      'ip -j neigh',
      '[{"dst":"10.0.0.5","dev":"eth0","lladdr":"02:00:5e:10:00:01","state":["REACHABLE"]},' +
        '{"dst":"10.0.0.6","dev":"eth0","state":["FAILED"]},' +
        '{"dst":"fe80::1","lladdr":"02:00:5e:10:00:02","state":["STALE"]}]',
      'neighbours',
      [
        ['10.0.0.5', '02:00:5e:10:00:01', null],
        ['fe80::1', '02:00:5e:10:00:02', null],
      ],
    ],
    [
      'dnsmasq',
      '1764000000 02:00:5e:10:00:01 10.0.0.5 till 01:02:00:5e:10:00:01\n1764000000 ' +
        '02:00:5e:10:00:02 10.0.0.6 * *\nduid 00:01\n',
      'dnsmasq leases',
      [
        ['10.0.0.5', '02:00:5e:10:00:01', 'till'],
        ['10.0.0.6', '02:00:5e:10:00:02', null],
      ],
    ],
    [
      'dhcpd',
      '# comment\nlease 10.0.0.5 {\n  starts 2 2026/11/24 10:00:00;\n  binding state ' +
        'active;\n  hardware ethernet 02:00:5e:10:00:01;\n  client-hostname "till";\n}\nlease ' +
        '10.0.0.6 {\n  binding state free;\n  hardware ethernet 02:00:5e:10:00:02;\n}\n',
      'dhcpd leases',
      [['10.0.0.5', '02:00:5e:10:00:01', 'till']],
    ],
    [
      'Kea',
      'address,hwaddr,client_id,valid_lifetime,expire,subnet_id,fqdn_fwd,fqdn_rev,hostname,state,user_context\n' +
        '10.0.0.5,02:00:5e:10:00:01,,3600,1764000000,1,0,0,till,0,\n' +
        '10.0.0.6,02:00:5e:10:00:02,,3600,1764000000,1,0,0,,2,\n',
      'Kea leases',
      [['10.0.0.5', '02:00:5e:10:00:01', 'till']],
    ],
    [
      'neighbours in lines',
      '10.0.0.5 dev eth0 lladdr 02:00:5e:10:00:01 REACHABLE\n10.0.0.6 dev eth0 FAILED\n',
      'neighbours',
      [['10.0.0.5', '02:00:5e:10:00:01', null]],
    ],
    [
      'a port scan',
      '<?xml version="1.0"?><!DOCTYPE scan><scan><host><status state="up"/>' +
        '<address addr="10.0.0.5" addrtype="ipv4"/><address addr="02:00:5E:10:00:01" addrtype="mac"/>' +
        '<hostnames><hostname name="till" type="PTR"/></hostnames></host>' +
        '<host><status state="down"/><address addr="10.0.0.6" addrtype="ipv4"/></host></scan>',
      'port scan',
      [['10.0.0.5', '02:00:5e:10:00:01', 'till']],
    ],
    [
      'a table',
      'IP;MAC;Name\n10.0.0.5;02-00-5E-10-00-01;till\n',
      'CSV',
      [['10.0.0.5', '02:00:5e:10:00:01', 'till']],
    ],
  ])('%s', (_, text, kind, expected) => {
    const read = readSightings(text)
    expect(read.problems).toEqual([])
    expect([read.kind, read.sightings.map((s) => [s.address, s.hardwareAddress, s.name])]).toEqual([
      kind,
      expected,
    ])
  })
  it('a lease file is a journal: the last word on an address counts', () => {
    expect(
      readSightings('1 02:00:5e:10:00:01 10.0.0.5 old *\n2 02:00:5e:10:00:02 10.0.0.5 new *\n')
        .sightings,
    ).toMatchObject([{ name: 'new', hardwareAddress: '02:00:5e:10:00:02' }])
  })
  it.each([
    ['', /1: the file is empty/],
    ['[{"dst": "10.0.0.1"},\n {"dst": oops}]', /2: this is not JSON from here on/],
    ['[{"lladdr":"02:00:5e:10:00:01"}]', /1: entry 1 has no 'dst'/],
    ['lease 10.0.0.5 {\n hardware ethernet 02:00:5e:10:00:01;\n', /1: this lease is never closed/],
    [
      '1764000000 02:00:5e:10:00:01 10.0.0.5 a *\nrubbish\n',
      /2: expected a time, a hardware address/,
    ],
    ['address,mac\n10.0.0.999,02:00:5e:10:00:01\n', /2: '10\.0\.0\.999' has 999/],
    ['address,mac\n10.0.0.9,02:00\n', /2: '02:00' is not a hardware address/],
    ['<scan><host>', /1: it is not well-formed/],
    ['<!DOCTYPE a [<!ENTITY b "c">]><a/>', /1: it defines names of its own/],
    ['<html></html>', /1: no 'host' is in it/],
    ['10.0.0.5 dev eth0 lladdr 02:00:5e:10:00:01\nrubbish\n', /2: expected an address, 'dev'/],
    ['a,b\n1,2\n', /1: neither leases nor neighbours/],
  ])('says by line what is wrong in %j', (text, reason) =>
    expect(said(readSightings(text).problems)).toMatch(reason),
  )
  it('survives any text', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 400 }), (t) => {
        readSightings(t)
        readSightings(`lease ${t}`)
        readSightings(`[${t}`)
      }),
    )
  })
})

describe('address plans from files', () => {
  const header = 'vlan,segment,subnet,gateway,fixed,pools,lease s,ipv6,dhcp,name servers,routes\n'
  const row = (cells: Record<string, string>): string =>
    header +
    [
      '20',
      'Office',
      cells.subnet ?? '10.2.20.0/24',
      cells.gateway ?? '10.2.20.1',
      cells.fixed ?? '',
      cells.pools ?? '',
      cells.lease ?? '',
      cells.ipv6 ?? '',
      cells.dhcp ?? '',
      cells.dns ?? '',
      cells.routes ?? '',
    ]
      .map((c) => `"${c}"`)
      .join(',')
  it.each([
    [
      'mask and gateway exchanged',
      { gateway: '255.255.255.0' },
      /2: '255\.255\.255\.0' is a mask, not an address; did mask and gateway change places/,
    ],
    [
      'host bits',
      { subnet: '10.2.20.5/24' },
      /2: host bits are set in '10\.2\.20\.5\/24'; the subnet is 10\.2\.20\.0\/24/,
    ],
    ['everything', { subnet: '0.0.0.0/0' }, /2: '0\.0\.0\.0\/0' is every address there is/],
    ['IPv4-mapped IPv6', { gateway: '::ffff:10.2.20.1' }, /2: .* write 10\.2\.20\.1/],
    ['leading zeros', { gateway: '10.2.020.1' }, /2: '10\.2\.020\.1' has the leading zero of 020/],
    [
      'IPv6 in the wrong column',
      { subnet: '2001:db8::/64' },
      /2: .* belongs into the column 'ipv6'/,
    ],
    ['a long IPv6 prefix', { ipv6: '2001:db8::/72' }, /2: '2001:db8::\/72' is not a \/64/],
    [
      'a pool backwards',
      { pools: '10.2.20.90-10.2.20.50' },
      /2: '10\.2\.20\.90-10\.2\.20\.50' ends before it starts/,
    ],
    ['a lease', { lease: 'a day' }, /2: 'a day' is not a lease in seconds from 120/],
    ['relay to nobody', { dhcp: 'relay' }, /2: an address is missing/],
    ['dhcp', { dhcp: 'yes' }, /2: 'yes' is none of server, off and relay/],
    ['a route', { routes: '10.9.0.0/16 via nowhere' }, /2: 'nowhere' is not an address/],
  ])('%s', (_, cells, reason) => {
    const read = readAddressCsv(row(cells))
    expect(said(read.problems)).toMatch(reason)
    expect(read.rows[0]!.facts).toBeNull()
    expect(read.rows[0]!.text).toContain('Office')
    expect(importOf(createPlan('x'), read).edits).toEqual([])
  })
  it('takes over what it can, by VLAN, by name or by subnet, and changes nothing that is the same', () => {
    const plan = quayside()
    const text =
      'VLAN;Name;Network;Router\n40;Cameras;10.20.40.0 255.255.255.0;10.20.40.1\n41;Annex;10.20.41.0/24;10.20.41.1\n'
    const brought = importOf(plan, readAddressCsv(text))
    expect([brought.adds, brought.changes, brought.same]).toEqual([1, 0, 1])
    expect(
      Object.values(applyEdits(plan, brought.edits).segments).find((s) => s.vlanId === 41),
    ).toMatchObject({ name: 'Annex', subnet: '10.20.41.0/24', purpose: 'staff' })
  })
  it('names a segment that stands twice, a missing column, an unknown one', () => {
    expect(said(readAddressCsv('vlan,segment\n20,Office\n30,office\n').problems)).toMatch(
      /3: 'office' stands in line 2 already/,
    )
    expect(said(readAddressCsv('vlan,subnet\n20,10.0.0.0/24\n').problems)).toMatch(
      /1: the column 'segment' is missing/,
    )
    expect(said(readAddressCsv('segment,mood\nOffice,fine\n').leftOut)).toMatch(
      /1: 'mood' is not a column/,
    )
    expect(said(readAddressCsv('').problems)).toMatch(/the file is empty/)
  })
  it('Kea: comments are read over, what has no place is said by line, what is wrong stops only its subnet', () => {
    const text =
      '{ // ours\n "Dhcp4": { "valid-lifetime": 4000,\n "subnet4": [\n { "id": 20, "subnet": ' +
      '"10.2.20.0/24", "pools": [ { "pool": "10.2.20.64/26" } ],\n  "option-data": [ { ' +
      '"name": "routers", "data": "10.2.20.1" }, { "name": "tftp-server-name", "data": "x" } ' +
      '],\n  "reservations": [ { "client-id": "01:02" } ] },\n { "id": 30, "subnet": ' +
      '"10.2.30.7/24" }\n ] } }'
    const read = readKea(text)
    expect(read.rows[0]!.facts).toMatchObject({
      vlanId: 20,
      subnet: '10.2.20.0/24',
      gateway: '10.2.20.1',
      leaseSeconds: 4000,
      pools: [{ first: '10.2.20.64', last: '10.2.20.127' }],
    })
    expect(said(read.leftOut)).toMatch(
      /5: option tftp-server-name has no place in a plan\n6: a reservation without a hardware address/,
    )
    expect(said(read.problems)).toMatch(/^7: host bits are set in '10\.2\.30\.7\/24'/)
    expect(said(readKea('{"Dhcp4": {').problems)).toMatch(/not JSON from here on/)
    expect(said(readKea('{"Dhcp6": {}}').problems)).toMatch(/no 'Dhcp4' with a list 'subnet4'/)
  })
  it('dnsmasq: ranges, hosts and options by tag; what is left out is said', () => {
    const read = readDnsmasq(
      'interface=eth0\ndhcp-range=set:v20,10.2.20.50,10.2.20.99,255.255.255.0,12h\n' +
        'dhcp-option=tag:v20,3,10.2.20.1\ndhcp-host=02:00:5e:10:00:01,10.2.20.9,till\n' +
        'enable-tftp\ndhcp-range=10.2.30.50,10.2.30.x,255.255.255.0\n',
    )
    expect(read.rows[0]!.facts).toMatchObject({
      vlanId: 20,
      subnet: '10.2.20.0/24',
      gateway: '10.2.20.1',
      leaseSeconds: 43_200,
      pools: [{ first: '10.2.20.50', last: '10.2.20.99' }],
    })
    expect(read.hosts).toEqual([
      {
        line: 4,
        hardwareAddress: '02:00:5e:10:00:01',
        address: '10.2.20.9',
        name: 'till',
        typed: null,
      },
    ])
    expect(said(read.leftOut)).toBe("5: 'enable-tftp' has no place in a plan")
    expect(said(read.problems)).toMatch(/6: '10\.2\.30\.x' is not an address/)
  })
  it('zones: names are made whole, brackets and comments understood, wrong records named', () => {
    const read = readZone(
      '$TTL 1h\n@ IN SOA ns hostmaster ( 1 ; serial\n 2 3 4 5 )\nns A 10.0.0.2\n  300 IN A ' +
        '10.0.0.3\nfar.example. AAAA 2001:db8::1\nbad A 10.0.0\nodd WHAT 1\n$INCLUDE other\n',
      'site.internal',
    )
    expect(read.records).toMatchObject([
      { line: 4, name: 'ns.site.internal', data: '10.0.0.2' },
      { line: 5, name: 'ns.site.internal', data: '10.0.0.3' },
      { line: 6, name: 'far.example', type: 'AAAA' },
    ])
    expect(said(read.problems)).toMatch(
      /7: '10\.0\.0' has 3 parts.*\n8: 'WHAT' is not a type of record/,
    )
    expect(said(read.leftOut)).toMatch(/9: \$INCLUDE is not followed/)
    expect(said(readZone('a IN SOA ( 1\n').problems)).toMatch(/1: a bracket opens here/)
  })
  it('netplan: says what is not YAML, and what is no address', () => {
    expect(
      readNetplan(
        'network:\n  ethernets:\n    eth0:\n      addresses: [10.0.0.5/24, ' +
          '"2001:db8::5/64"]\n      routes: [{ to: default, via: 10.0.0.1 }]\n',
      ).addresses,
    ).toMatchObject([
      { address: '10.0.0.5', length: 24, gateway: '10.0.0.1' },
      { address: '2001:db8::5', length: 64 },
    ])
    expect(
      said(
        readNetplan('network:\n  ethernets:\n    eth0:\n      addresses: [10.0.0.5]\n').problems,
      ),
    ).toMatch(/4: '10\.0\.0\.5' has no length that fits/)
    expect(said(readNetplan('network: [\n').problems)).toMatch(/not YAML/)
    expect(said(readNetplan(`a:${' {"b": '.repeat(5000)}`).problems)).toMatch(
      /nested too deeply|not YAML/,
    )
    expect(said(readNetplan('a: 1\n').problems)).toMatch(/no 'network' with 'ethernets'/)
  })
  it.each<[string, string, string]>([
    ['a.yaml', '', 'netplan'],
    ['hosts', 'network:\n  version: 2\n', 'netplan'],
    ['kea.conf', '{ "Dhcp4": {} }', 'kea'],
    ['x.conf', 'dhcp-range=10.0.0.2,10.0.0.9\n', 'dnsmasq'],
    ['db.site', '$ORIGIN site.\n', 'zones'],
    ['20.10.in-addr.arpa.zone', '1 IN PTR a.site.\n', 'zones'],
    ['plan.csv', 'vlan,segment\n', 'address-csv'],
    ['list.csv', 'name;profile;serial\n', 'equipment-csv'],
  ])('%s with %j is %s', (name, text, format) => expect(formatOf(name, text)?.id).toBe(format))
  it(
    'a host is known by its hardware address, its name or the name of its file; others are ' +
      'offered, each for the segment of its address',
    () => {
      const plan = quayside()
      const zone = importOf(
        plan,
        zoneAddresses(
          '$ORIGIN site.\noffice-printer IN A 10.20.20.9\nprinter IN A ' +
            '10.20.20.8\nharbour-gateway-20 IN A 10.20.20.1\nbuoy IN A 10.20.40.77\nfar IN A ' +
            '203.0.113.1\n',
          'db.site',
        ),
      )
      expect(zone.edits).toEqual([
        editCall('changeDevice', {
          id: 'printer',
          changes: {
            addressing: {
              mode: 'fixed',
              segmentId: 'office-net',
              address: '10.20.20.9',
              gateway: plan.devices.printer!.addressing.gateway,
            },
          },
        }),
      ])
      expect(said(zone.contradictions)).toBe(
        '3: line 2 gives Office printer 10.20.20.9, this one 10.20.20.8; the first counts',
      )
      expect(zone.strangers.map((s) => [s.fact.name, s.takeIn])).toEqual([
        [
          'buoy.site',
          editCall('addDevice', {
            id: 'buoy',
            name: 'buoy',
            profileId: 'wired-host',
            hardwareAddress: null,
            stays: true,
            addressing: {
              mode: 'fixed',
              segmentId: 'cameras',
              address: '10.20.40.77',
              gateway: '10.20.40.1',
            },
          }),
        ],
        ['far.site', null],
      ])
      const typed = importOf(
        plan,
        netplanAddresses(
          'network:\n  ethernets:\n    eth0:\n      addresses: [10.20.20.30/24]\n      routes: ' +
            '[{ to: default, via: 10.20.20.254 }]\n',
          '/etc/netplan/harbour-desk.yaml',
        ),
      )
      expect(typed.edits).toMatchObject([
        {
          args: {
            id: 'harbour-desk',
            changes: {
              addressing: { mode: 'fixed', address: '10.20.20.30', gateway: '10.20.20.254' },
            },
          },
        },
      ])
      const leased = importOf(
        plan,
        readDnsmasq(
          'dhcp-host=02:4b:48:01:00:02,10.20.20.44\ndhcp-host=02:4b:48:99:00:02,10.20.20.45,lamp\n',
        ),
      )
      expect(leased.edits).toMatchObject([
        {
          args: {
            id: 'harbour-desk',
            changes: { addressing: { mode: 'reserved', address: '10.20.20.44' } },
          },
        },
      ])
      expect(leased.strangers).toMatchObject([
        {
          takeIn: {
            args: {
              id: 'lamp',
              hardwareAddress: '02:4b:48:99:00:02',
              addressing: { mode: 'reserved', segmentId: 'office-net' },
            },
          },
        },
      ])
      // What is offered can be done.
      expect(
        Object.keys(
          applyEdits(
            plan,
            [...zone.strangers, ...leased.strangers].flatMap((s) => (s.takeIn ? [s.takeIn] : [])),
          ).devices,
        ),
      ).toEqual(expect.arrayContaining(['buoy', 'lamp']))
    },
  )
  it('nothing that is read makes an exception', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 300 }), (t) => {
        readAddressCsv(t)
        readAddressCsv(header + t)
        readKea(t)
        readKea(`{"Dhcp4":{"subnet4":[${t}]}}`)
        readDnsmasq(t)
        readDnsmasq(`dhcp-range=${t}`)
        readZone(t)
        readNetplan(t)
        readNetplan(`network:\n  ethernets:\n    ${t}`)
      }),
    )
  })
})

describe('tables that are not as they should be', () => {
  it('another encoding is named with line and column, and UTF-16 is read', () => {
    const latin = Uint8Array.from(
      [...'name,profile\nK']
        .map((c) => c.charCodeAt(0))
        .concat(0xfc, ...[...'che,x'].map((c) => c.charCodeAt(0))),
    )
    expect(decodeText(latin)).toEqual({
      problem: {
        line: 2,
        column: 2,
        reason: 'octet fc is not UTF-8; save the file as UTF-8 and read it again',
      },
    })
    const utf16 = Uint8Array.from([
      0xff,
      0xfe,
      ...[...'näme'].flatMap((c) => [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8]),
    ])
    expect(decodeText(utf16)).toEqual({ text: 'näme' })
    expect(decodeText(new Uint8Array(16_000_001))).toMatchObject({
      problem: { reason: expect.stringContaining('larger than 16 MB') },
    })
  })
  it('broken quotes are named where they open, and nothing is imported', () => {
    const read = readEquipmentCsv(
      'name,profile\nA,Switch 5 plain\n"B,Switch 5 plain\nC,Switch 5 plain\n',
      createPlan('x'),
    )
    expect(said(read.problems)).toMatch(/3: a quotation mark opens here and is never closed/)
    expect(read.rows.every((r) => r.device === null)).toBe(true)
  })
  it('100,000 rows are read, each bad one named by its line, none lost', () => {
    const rows = Array.from(
      { length: MAX_CSV_ROWS },
      (_, i) => `Device ${i},${i % 1000 === 7 ? 'Kettle' : 'Switch 5 plain'},,,,`,
    )
    const read = readEquipmentCsv(
      `name,profile,serial,hardware address,firmware,location\n${rows.join('\n')}`,
      createPlan('x'),
    )
    expect(read.rows).toHaveLength(MAX_CSV_ROWS)
    expect(read.rows.filter((r) => r.device)).toHaveLength(MAX_CSV_ROWS - 100)
    expect(read.problems.slice(0, 2).map((p) => [p.line, p.column])).toEqual([
      [9, 2],
      [1009, 2],
    ])
    expect(said(readCsv(`a\n${'x\n'.repeat(MAX_CSV_ROWS + 2)}`).problems)).toMatch(
      /more than 100,000 rows; split the file/,
    )
  })
  it('formulas stay text, both ways', () => {
    const text = writeCsv(
      ['name', 'profile'],
      [
        ['=HYPERLINK("http://x")', 'Switch 5 plain'],
        ['+1', 'Switch 5 plain'],
      ],
    )
    expect(text).not.toMatch(/(^|,|")[=+]/m)
    expect(readEquipmentCsv(text, createPlan('x')).rows.map((r) => r.device?.name)).toEqual([
      '=HYPERLINK("http://x")',
      '+1',
    ])
  })
  it('columns go where a person says', () => {
    const text = 'Bezeichnung,Art,Nummer\nTill,Wired host,\n'
    expect(readEquipmentCsv(text, createPlan('x')).problems.length).toBeGreaterThan(0)
    const mapped = readEquipmentCsv(text, createPlan('x'), {
      name: 0,
      profile: 1,
      serial: 2,
      'hardware address': -1,
      firmware: -1,
      location: -1,
    })
    expect(mapped.rows[0]!.device).toMatchObject({
      name: 'Till',
      profileId: 'wired-host',
      serial: null,
    })
  })
  it("a serial of another shape than the profile's is told before it is imported", () => {
    expect(
      said(
        readEquipmentCsv('name,profile,serial\nA,Gateway 4+2,AM-GAT-4823O\n', createPlan('x'))
          .problems,
      ),
    ).toMatch(
      /2: AM-GAT-4823O does not look like a serial of this kind, for example AM-GGG-44444; is it AM-GAT-48230\?/,
    )
  })
})
