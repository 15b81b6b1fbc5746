import { describe, expect, it } from 'vitest'
import {
  configurationSchema,
  helloSchema,
  observationSchema,
  probeSchema,
  reportSchema,
  ruleSchema,
} from '.'

const hello = {
  serial: 'AM-1',
  hardwareAddress: '02:00:00:00:00:01',
  model: 'm',
  firmware: '1',
  address: '10.0.0.1',
  claimSecretDigest: 'a'.repeat(64),
  factoryPassword: true,
}
const report = {
  sequence: 1,
  phase: 'running',
  firmware: '1',
  configurationDigest: null,
  uptimeSeconds: 0,
  address: '10.0.0.1',
  factoryPassword: false,
  ports: [],
  lines: [],
  done: [],
  message: null,
}
const takes = (schema: { safeParse(v: unknown): { success: boolean } }, value: unknown): boolean =>
  schema.safeParse(value).success

describe('messages', () => {
  it('take what docs/controller-protocol.md shows', () => {
    expect(takes(helloSchema, hello)).toBe(true)
    expect(takes(reportSchema, report)).toBe(true)
  })
  it.each([
    ['a field too many', { ...hello, extra: 1 }],
    ['a field too few', { ...hello, serial: undefined }],
    ['a serial in small letters', { ...hello, serial: 'am-1' }],
    ['a hardware address with hyphens', { ...hello, hardwareAddress: '02-00-00-00-00-01' }],
    ['an address with a zone', { ...hello, address: 'fe80::1%eth0' }],
    ['a digest that is none', { ...hello, claimSecretDigest: 'a' }],
  ])('hello refuses %s', (_, value) => expect(takes(helloSchema, value)).toBe(false))
  it.each([
    ['sequence 0', { ...report, sequence: 0 }],
    ['another phase', { ...report, phase: 'asleep' }],
    [
      '97 ports',
      {
        ...report,
        ports: Array.from({ length: 97 }, (_, i) => ({ name: String(i), up: true, heard: [] })),
      },
    ],
    ['a long message', { ...report, message: 'x'.repeat(201) }],
    ['uptime below zero', { ...report, uptimeSeconds: -1 }],
  ])('report refuses %s', (_, value) => expect(takes(reportSchema, value)).toBe(false))
})

describe('configurations', () => {
  const page = { vlan: 10, mode: 'automatic', address: null, gateway: null }
  const port = {
    name: '1',
    untagged: 10,
    tagged: [20],
    isolated: [],
    mode: 'trunk',
    description: '',
    edge: false,
    edgeGuard: false,
    leaseGuard: false,
    routerGuard: true,
    stormPercent: null,
  }
  const system = {
    hostName: 's',
    timeZone: 'UTC',
    timeServers: [],
    banner: '',
    logTo: null,
    monitoring: null,
    neighbours: true,
    spanningTree: { priority: 4096 },
    pageFrom: ['10.0.0.0/24'],
  }
  const plain = { kind: 'switch', name: 'S', system, page, ports: [port], controllerUrl: null }
  it('what was released by an earlier version is still read', () => {
    const rule = {
      chain: 'forward',
      from: ['line'],
      to: 'any',
      family: 'ipv4',
      sources: null,
      destinations: null,
      protocol: 'any',
      ports: [],
      states: ['new'],
      notForwarded: true,
      verdict: 'drop',
    }
    expect(ruleSchema.parse(rule)).toMatchObject({ forwarded: 'not', hours: null })
    expect(takes(ruleSchema, { ...rule, notForwarded: undefined, other: 1 })).toBe(false)
    const { spanningTree, ...before } = system
    const { edge, ...was } = port
    expect([spanningTree, edge]).toEqual([{ priority: 4096 }, false])
    expect(configurationSchema.parse({ ...plain, system: before, ports: [was] })).toMatchObject({
      system: { spanningTree: null },
      ports: [{ edge: false }],
    })
    const gateway = {
      kind: 'gateway',
      name: 'G',
      system,
      segments: [],
      ports: [port],
      origins: [],
      addressLists: {},
      rules: [],
      masquerade: [],
      names: [],
      controllerUrl: null,
    }
    const line = {
      port: 'wan1',
      vlan: null,
      priority: 0,
      mtu: 1500,
      mode: 'automatic',
      user: null,
      password: null,
      address: null,
      gateway: null,
      nameServers: [],
      hardwareAddress: null,
      speedMbps: null,
      segmentSize: null,
    }
    expect(configurationSchema.parse({ ...gateway, line })).toMatchObject({ lines: [line] })
    expect(configurationSchema.parse({ ...gateway, line: null })).toMatchObject({ lines: [] })
  })
  it('a switch takes its own fields and no others', () => {
    expect(takes(configurationSchema, plain)).toBe(true)
    expect(takes(configurationSchema, { ...plain, networks: [] })).toBe(false)
    expect(takes(configurationSchema, { ...plain, kind: 'kettle' })).toBe(false)
    expect(takes(configurationSchema, { ...plain, ports: [{ ...port, untagged: 4095 }] })).toBe(
      false,
    )
  })
})

it('probes name their target by kind, observations by outcome', () => {
  expect(
    takes(probeSchema, {
      id: 'a',
      from: 'desk',
      kind: 'tcp',
      target: { kind: 'host', deviceId: 'till' },
      port: 443,
    }),
  ).toBe(true)
  expect(
    takes(probeSchema, { id: 'a', from: 'desk', kind: 'tcp', target: { kind: 'host' }, port: 443 }),
  ).toBe(false)
  expect(
    takes(observationSchema, {
      id: 'a',
      outcome: 'perhaps',
      address: null,
      detail: '',
      atSeconds: 0,
    }),
  ).toBe(false)
})
