/** Brings older plan documents up to the present version, one step a version. */
import { PLAN_VERSION } from './schema'

export type JsonObject = Record<string, unknown>
/** Takes a document of version n to n + 1; the runner writes the version field. */
export type Migration = (document: JsonObject) => JsonObject

type Entities = Record<string, JsonObject>
const each = (
  document: JsonObject,
  collection: string,
  change: (entity: JsonObject, n: number) => JsonObject,
): Entities =>
  Object.fromEntries(
    Object.entries((document[collection] ?? {}) as Entities).map(([id, entity], n) => [
      id,
      change(entity, n),
    ]),
  )

/**
 * Version 2 knows more of hand-offs, places, profiles and segments; several pools; networks that
 * are there already.
 */
function toSecond(document: JsonObject): JsonObject {
  const site = document.site as JsonObject
  return {
    ...document,
    site: {
      ...site,
      addressSpace6: [],
      domain: null,
      electricity: null,
      cabling: { slackPercent: 10, spareLeads: 2 },
      preferences: {
        vlanOne: 'used',
        infrastructure: 'reserved',
        growthYears: 3,
        ...(site.preferences as JsonObject),
      },
    },
    locations: each(document, 'locations', (l) => ({
      ...l,
      outlets: null,
      outletDistanceM: null,
      latitude: null,
      longitude: null,
      heightM: null,
      people: 0,
      clients: [],
    })),
    profiles: each(document, 'profiles', (p) => ({
      ...p,
      leadM: null,
      mount: 'none',
      serialShape: null,
      licences: [],
      limits: {
        controllerCapacity: null,
        tunnels: null,
        plainMbps: null,
        inspectedMbps: null,
        tunnelledMbps: null,
      },
      firmware: { minimum: '', ...(p.firmware as JsonObject) },
      ports: (p.ports as JsonObject[]).map((q) => ({ ...q, licenceId: null })),
    })),
    devices: each(document, 'devices', (d) => ({ ...d, stays: false, licencesHeld: [] })),
    segments: each(document, 'segments', ({ pool, ...s }) => ({
      ...s,
      pools: pool === null || pool === undefined ? [] : [pool],
      subnet6: null,
      locked: false,
      alignLength: null,
      dhcp: { mode: pool ? 'server' : 'off', relayTo: null },
      options: { nameServers: [], timeServers: [], routes: [] },
      churn: null,
    })),
    uplinks: each(document, 'uplinks', (u, n) => ({
      ...u,
      rank: Math.min(n, 9),
      handOff: {
        pppoeUser: null,
        passwordRef: null,
        accessPointName: null,
        forcedSpeedMbps: null,
        ipv6: null,
        cap: null,
        ...(u.handOff as JsonObject),
      },
    })),
    knownNetworks: {},
  }
}

/**
 * Hosts of these profiles are computers that people set up; all others that had come with the
 * program are set by a page of their own.
 */
const linuxProfiles = new Set(['controller-host', 'wired-host'])

/**
 * Version 3 knows what runs on a host and how a switch sets power aside. Profiles of one's own keep
 * what was taken for granted: hosts with a cable alone run Linux.
 */
function toThird(document: JsonObject): JsonObject {
  const shipped = new Set([
    'recorder',
    'camera-poe',
    'card-terminal',
    'desk-handset',
    'sensor-wired',
    'handset',
  ])
  const isLinux = (p: JsonObject): boolean =>
    linuxProfiles.has(p.id as string) ||
    (['host', 'controller'].includes(p.kind as string) &&
      p.radios === 0 &&
      !shipped.has(p.id as string))
  return {
    ...document,
    profiles: each(document, 'profiles', (p) => ({
      ...p,
      system: isLinux(p) ? 'linux' : 'own',
      poeAllocation: 'class',
    })),
  }
}

const managedAbilities = {
  switch: [
    'lease-guard',
    'router-guard',
    'edge-guard',
    'storm-limit',
    'neighbours',
    'monitoring',
    'remote-log',
  ],
  'access-point': ['neighbours', 'monitoring', 'remote-log'],
  gateway: ['neighbours', 'monitoring', 'remote-log'],
} as const

/**
 * Version 4 knows what devices can beyond VLANs, and how they are looked after. Of profiles of
 * one's own nobody has said yet what they can.
 */
function toFourth(document: JsonObject): JsonObject {
  const shipped = new Set([
    'gateway-4-2',
    'switch-24-poe-190',
    'switch-8-poe-65',
    'ap-indoor-2x2',
    'ap-outdoor-2x2',
  ])
  return {
    ...document,
    site: {
      ...(document.site as JsonObject),
      management: { banner: '', logTo: null, monitoring: null },
    },
    profiles: each(document, 'profiles', (p) => ({
      ...p,
      abilities: shipped.has(p.id as string)
        ? managedAbilities[p.kind as keyof typeof managedAbilities]
        : [],
    })),
  }
}

/**
 * Version 5 knows groups, hours of intents, port forwards, and the spanning tree, which managed
 * switches and gateways were taken to run before.
 */
function toFifth(document: JsonObject): JsonObject {
  const site = document.site as JsonObject
  const runs = (p: JsonObject): boolean =>
    p.vlan === 'managed' && (p.kind === 'switch' || p.kind === 'gateway')
  return {
    ...document,
    groups: {},
    forwards: {},
    intents: each(document, 'intents', (i) => ({ ...i, hours: null })),
    site: {
      ...site,
      preferences: { ...(site.preferences as JsonObject), spanningTreeRootId: null },
    },
    profiles: each(document, 'profiles', (p) =>
      runs(p) ? { ...p, abilities: ['spanning-tree', ...(p.abilities as string[])] } : p,
    ),
  }
}

/** Version 6 knows how lines are tested, what they lie on, and when they are gone back to. */
function toSixth(document: JsonObject): JsonObject {
  return {
    ...document,
    site: {
      ...(document.site as JsonObject),
      failover: {
        back: null,
        switchSeconds: 1,
        toleratedSeconds: null,
        falseSwitchesAYear: null,
      },
    },
    uplinks: each(document, 'uplinks', (u) => ({
      ...u,
      standby: 'hot',
      startSeconds: null,
      keepsSignal: true,
      isInspected: false,
      watch: null,
      parts: [],
      failing: null,
      loss: null,
    })),
  }
}

/**
 * Version 7 knows lines that share what leaves, who uses which, and what a cellular line needs.
 * Lines of one rank were used one after the other.
 */
function toSeventh(document: JsonObject): JsonObject {
  const order = Object.entries(document.uplinks as Entities)
    .sort(
      ([a, u], [b, v]) => (u.rank as number) - (v.rank as number) || (a < b ? -1 : a > b ? 1 : 0),
    )
    .map(([id]) => id)
  return {
    ...document,
    lineChoices: {},
    uplinks: Object.fromEntries(
      Object.entries(document.uplinks as Entities).map(([id, u]) => [
        id,
        { ...u, rank: order.indexOf(id), weight: 1, cellular: null },
      ]),
    ),
  }
}

/**
 * Version 8 knows plans of the place, and what radios are: of a number of them the usual is taken,
 * one for each band.
 */
function toEighth(document: JsonObject): JsonObject {
  const radio = (bands: string[]): JsonObject => ({
    bands,
    generation: 5,
    streams: 2,
    powerDbm: 20,
    gainDbi: 3,
    beam: null,
  })
  const airOf = (kind: unknown, count: number): JsonObject[] =>
    kind === 'host'
      ? Array.from({ length: count }, () => radio(['2.4', '5']))
      : [['2.4'], ['5'], ['6'], ['5']].slice(0, count).map(radio)
  return {
    ...document,
    floors: {},
    walls: {},
    areas: {},
    clientTypes: {},
    profiles: each(document, 'profiles', ({ radios, ...p }) => ({
      ...p,
      air: airOf(p.kind, radios as number),
    })),
    devices: each(document, 'devices', (d) => ({ ...d, place: null, radios: [] })),
  }
}

/**
 * Version 9 knows what is measured on the air, and how networks are sent. Access points that had a
 * place hang there.
 */
function toNinth(document: JsonObject): JsonObject {
  return {
    ...document,
    site: {
      ...(document.site as JsonObject),
      wireless: {
        channels: 'planned',
        replanMinute: 180,
        usesRadar: true,
        power: 'low',
        extenders: 'two-stage',
        dark: null,
        restart: null,
      },
    },
    walks: {},
    scans: {},
    floors: each(document, 'floors', (f) => ({ ...f, outlets: [] })),
    devices: each(document, 'devices', (d) => ({
      ...d,
      place: d.place && { ...(d.place as JsonObject), stays: true },
      mode: null,
      listensToId: null,
    })),
    wirelessNetworks: each(document, 'wirelessNetworks', (w) => ({
      ...w,
      bands: ['2.4', '5', '6'],
      isHidden: false,
      joinsByButton: false,
      allowed: [],
      leastDbm: null,
      leadsUp: false,
      portal: null,
    })),
  }
}

/** Version 10 knows from which level on a network leads up; before it was the usual one. */
function toTenth(document: JsonObject): JsonObject {
  return {
    ...document,
    wirelessNetworks: each(document, 'wirelessNetworks', (w) => ({ ...w, leadsUpDbm: -70 })),
  }
}

/** Version 11 knows paths through the air, and what radios for them can do. */
function toEleventh(document: JsonObject): JsonObject {
  return {
    ...document,
    bridges: {},
    profiles: each(document, 'profiles', (p) => ({ ...p, bridge: null })),
    uplinks: each(document, 'uplinks', (u) => ({ ...u, sky: null })),
  }
}

/** Version 12 knows where plans of the place lie on the Earth, tunnels and who is at their other ends. */
function toTwelfth(document: JsonObject): JsonObject {
  return {
    ...document,
    tunnels: {},
    peers: {},
    floors: each(document, 'floors', (f) => ({ ...f, lies: null })),
  }
}

/** Version 13 knows controllers behind a tunnel, and who may change a name that follows. */
function toThirteenth(document: JsonObject): JsonObject {
  return {
    ...document,
    controller: { ...(document.controller as JsonObject), elsewhere: null },
    tunnels: each(document, 'tunnels', (t) => ({
      ...t,
      address: null,
      dynamicName: t.dynamicName ? { ...(t.dynamicName as JsonObject), keyRef: '' } : null,
    })),
  }
}

/** Version 14 knows how devices are set up, and that nobody chose anything else before. */
function toFourteenth(document: JsonObject): JsonObject {
  return {
    ...document,
    profiles: each(document, 'profiles', (p) => ({
      setUp: { ways: ['cable'], resetSeconds: null, lamp: '', display: [] },
      ...p,
    })),
    devices: each(document, 'devices', (d) => ({
      school: null,
      setUpAt: null,
      setUpBy: null,
      ...d,
    })),
  }
}

/**
 * Version 15 knows controllers on the internet, those that are started when needed, where their
 * accounts are kept, watchdogs, firmware of one device,
 * antennas that are screwed on, and how
 * often backups are made.
 */
function toFifteenth(document: JsonObject): JsonObject {
  const site = document.site as JsonObject
  return {
    ...document,
    site: { ...site, management: { backupEveryDays: null, ...(site.management as JsonObject) } },
    controller: {
      ...(document.controller as JsonObject),
      hosted: null,
      runs: 'always',
      accounts: 'local',
    },
    profiles: each(document, 'profiles', (p) => ({
      ...p,
      setUp: { antennas: [], ...(p.setUp as JsonObject) },
    })),
    devices: each(document, 'devices', (d) => ({ watchdog: null, firmwareWanted: null, ...d })),
  }
}

/** Version 16 knows controllers that serve devices from their box by RFC 8572. */
const toSixteenth = (document: JsonObject): JsonObject => ({
  ...document,
  controller: { bootstrap: null, ...(document.controller as JsonObject) },
})

/** Steps by the version that they start from. Version 1 is the first that was released. */
export const migrations: Readonly<Record<number, Migration>> = {
  1: toSecond,
  2: toThird,
  3: toFourth,
  4: toFifth,
  5: toSixth,
  6: toSeventh,
  7: toEighth,
  8: toNinth,
  9: toTenth,
  10: toEleventh,
  11: toTwelfth,
  12: toThirteenth,
  13: toFourteenth,
  14: toFifteenth,
  15: toSixteenth,
}

export type Migrated =
  { ok: true; document: JsonObject; from: number } | { ok: false; reason: string }

export function migrate(
  document: JsonObject,
  target: number = PLAN_VERSION,
  steps: Readonly<Record<number, Migration>> = migrations,
): Migrated {
  const from = document.version
  if (typeof from !== 'number' || !Number.isInteger(from) || from < 1)
    return { ok: false, reason: 'a plan needs a version: a whole number from 1' }
  if (from > target)
    return {
      ok: false,
      reason: `this plan has version ${from}, this program reads up to ${target}; update the program to open it`,
    }
  let current = document
  for (let version = from; version < target; version++) {
    const step = steps[version]
    if (!step)
      return { ok: false, reason: `there is no way from version ${version} to ${version + 1}` }
    try {
      current = { ...step(current), version: version + 1 }
    } catch {
      // A step trusts the shape of its version; what has not that shape is no plan of it.
      return {
        ok: false,
        reason: `this is not a plan of version ${version}: parts of it are missing or of another kind`,
      }
    }
  }
  return { ok: true, document: current, from }
}
