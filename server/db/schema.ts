/** Tables. The plan is a document in `revisions`; everything that happens to a site is rows. */
import type { EvidenceLine, Proof } from '@mast/api'
import { adoptionStates } from '@mast/core/adoption'
import type { PlanPatch } from '@mast/core/plan'
import { roles } from '@mast/core/roles'
import type { Report } from '@mast/protocol'
import { sql } from 'drizzle-orm'
import type { WaveTimes } from '@mast/core/release'
import {
  bigint,
  bigserial,
  boolean,
  cidr,
  customType,
  index,
  inet,
  integer,
  jsonb,
  macaddr,
  pgTable,
  primaryKey,
  real,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core'

/** Of proofs; of what people keep; and of what came with a site out of a file, its trail. */
export type EvidenceBody = Proof['body'] | (EvidenceLine['body'] & { trail?: unknown })

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' })
const at = (name: string) => timestamp(name, { withTimezone: true, mode: 'date' })
const siteRef = () =>
  text('site_id')
    .notNull()
    .references(() => sites.id, { onDelete: 'cascade' })

export const accounts = pgTable(
  'accounts',
  {
    id: uuid('id')
      .primaryKey()
      .default(sql`gen_random_uuid()`),
    name: text('name').notNull(),
    passwordHash: text('password_hash').notNull(),
    createdAt: at('created_at').notNull().defaultNow(),
  },
  (t) => [uniqueIndex('accounts_name').on(sql`lower(${t.name})`)],
)

export const sessions = pgTable('sessions', {
  tokenHash: text('token_hash').primaryKey(),
  /** By which it can be named without the token. */
  id: uuid('id')
    .notNull()
    .unique()
    .default(sql`gen_random_uuid()`),
  accountId: uuid('account_id')
    .notNull()
    .references(() => accounts.id, { onDelete: 'cascade' }),
  /** The browser, as it named itself. */
  agent: text('agent').notNull().default(''),
  createdAt: at('created_at').notNull().defaultNow(),
  lastSeenAt: at('last_seen_at').notNull().defaultNow(),
  expiresAt: at('expires_at').notNull(),
})

export const sites = pgTable('sites', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  head: integer('head').notNull().default(0),
  /** Speed of the site's stand-ins; device time runs so much faster than the wall clock. */
  clockSpeed: real('clock_speed').notNull().default(1),
  /** Counts changes of the site's secrets, so that what was made with them is known to be old. */
  secretsVersion: integer('secrets_version').notNull().default(0),
  /** How often the configuration of each device is kept; null never. */
  backupEveryDays: integer('backup_every_days'),
  /** When channels are planned anew, minutes of the day in the time zone; null never. */
  replanMinute: integer('replan_minute'),
  timeZone: text('time_zone'),
  /** The day, by the clocks of the site, on which that was looked at last. */
  replannedOn: text('replanned_on'),
  createdAt: at('created_at').notNull().defaultNow(),
})

export type Site = typeof sites.$inferSelect

export const members = pgTable(
  'members',
  {
    siteId: siteRef(),
    accountId: uuid('account_id')
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    role: text('role', { enum: roles }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.siteId, t.accountId] })],
)

/** A link that makes its first user a member. */
export const invitations = pgTable(
  'invitations',
  {
    id: uuid('id')
      .primaryKey()
      .default(sql`gen_random_uuid()`),
    tokenHash: text('token_hash').notNull().unique(),
    siteId: siteRef(),
    role: text('role', { enum: roles }).notNull(),
    /** Whom it is meant for, in the inviter's words. */
    note: text('note').notNull().default(''),
    invitedBy: uuid('invited_by')
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    createdAt: at('created_at').notNull().defaultNow(),
    expiresAt: at('expires_at').notNull(),
  },
  (t) => [index('invitations_site').on(t.siteId)],
)

/** Files of peers that are opened once; sealed until then. */
export const handOuts = pgTable(
  'hand_outs',
  {
    id: uuid('id')
      .primaryKey()
      .default(sql`gen_random_uuid()`),
    tokenHash: text('token_hash').notNull().unique(),
    siteId: siteRef(),
    peerId: text('peer_id').notNull(),
    name: text('name').notNull(),
    madeBy: uuid('made_by')
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    createdAt: at('created_at').notNull().defaultNow(),
    expiresAt: at('expires_at').notNull(),
    openedAt: at('opened_at'),
    /** The file; null once it was opened. */
    sealed: bytea('sealed'),
  },
  (t) => [index('hand_outs_site').on(t.siteId, t.createdAt)],
)

/** Counts tries over all server processes; its shape is the rate limiter's. */
export const tries = pgTable('tries', {
  key: text('key').primaryKey(),
  points: integer('points').notNull().default(0),
  expire: bigint('expire', { mode: 'number' }),
})

export const revisions = pgTable(
  'revisions',
  {
    siteId: siteRef(),
    number: integer('number').notNull(),
    /** Version of the plan document that the patches are for. */
    version: integer('version').notNull(),
    /** The whole plan; null where it follows from one before by patches. */
    document: jsonb('document').$type<object>(),
    patches: jsonb('patches').$type<readonly PlanPatch[]>().notNull(),
    inverse: jsonb('inverse').$type<readonly PlanPatch[]>().notNull(),
    summary: text('summary').notNull(),
    authorId: uuid('author_id').references(() => accounts.id, { onDelete: 'set null' }),
    /**
     * Who made it where that is no account here: a name out of a file, which is a text and nobody's
     * word.
     */
    authorName: text('author_name'),
    /** Made by the browser; a change that arrives twice makes one revision. */
    changeId: uuid('change_id'),
    at: at('at').notNull().defaultNow(),
  },
  (t) => [
    primaryKey({ columns: [t.siteId, t.number] }),
    uniqueIndex('revisions_change').on(t.siteId, t.changeId),
  ],
)

/**
 * By whose signature devices from their box take what they are given (RFC 8572): one of each site,
 * its key sealed.
 */
export const owners = pgTable('owners', {
  siteId: siteRef().primaryKey(),
  certificate: bytea('certificate').notNull(),
  key: bytea('key').notNull(),
})
/** Whose devices a site knows by the certificates that they left the factory with. */
export const makers = pgTable(
  'makers',
  {
    siteId: siteRef(),
    /** SHA-256 of the certificate. */
    digest: text('digest').notNull(),
    certificate: bytea('certificate').notNull(),
  },
  (t) => [primaryKey({ columns: [t.siteId, t.digest] })],
)
/** What makers say of whose a device is (RFC 8366); the newest of each. */
export const vouchers = pgTable(
  'vouchers',
  {
    siteId: siteRef(),
    serial: text('serial').notNull(),
    voucher: bytea('voucher').notNull(),
    createdAt: at('created_at').notNull(),
    expiresAt: at('expires_at'),
  },
  (t) => [primaryKey({ columns: [t.siteId, t.serial] }), index('vouchers_serial').on(t.serial)],
)

/** Configurations of devices that are kept, each while it is one of the newest. */
export const backups = pgTable(
  'backups',
  {
    siteId: siteRef(),
    deviceId: text('device_id').notNull(),
    at: at('at').notNull().defaultNow(),
    digest: text('digest').notNull(),
    firmware: text('firmware'),
  },
  (t) => [
    primaryKey({ columns: [t.siteId, t.deviceId, t.at] }),
    index('backups_digest').on(t.siteId, t.digest),
  ],
)

/** Clients on the air by their hardware addresses, and what is said of them here. */
export const clients = pgTable(
  'clients',
  {
    siteId: siteRef(),
    hardwareAddress: macaddr('hardware_address').notNull(),
    /** What somebody calls it; null where nobody named it. */
    name: text('name'),
    isShut: boolean('is_shut').notNull().default(false),
    limitKbps: integer('limit_kbps'),
    /** The access point that it was on last; null of one that was never heard. */
    deviceId: text('device_id'),
    network: text('network'),
    address: inet('address'),
    signalDbm: integer('signal_dbm'),
    joinedAt: at('joined_at'),
    seenAt: at('seen_at'),
    /** Its counters there when it was last heard. */
    downOctets: bigint('down_octets', { mode: 'number' }).notNull().default(0),
    upOctets: bigint('up_octets', { mode: 'number' }).notNull().default(0),
  },
  (t) => [primaryKey({ columns: [t.siteId, t.hardwareAddress] })],
)
/** What moved to and from each client, in spans of five minutes. */
export const clientTraffic = pgTable(
  'client_traffic',
  {
    siteId: siteRef(),
    hardwareAddress: macaddr('hardware_address').notNull(),
    /** When the span begins. */
    at: at('at').notNull(),
    downOctets: bigint('down_octets', { mode: 'number' }).notNull(),
    upOctets: bigint('up_octets', { mode: 'number' }).notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.siteId, t.hardwareAddress, t.at] }),
    index('client_traffic_at').on(t.at),
  ],
)

/** How many clients are on the air of a site in each hour of the day, in the mean. */
export const clientHours = pgTable(
  'client_hours',
  {
    siteId: siteRef(),
    /** 0 to 23, by the clocks of the site. */
    hour: integer('hour').notNull(),
    clients: real('clients').notNull(),
    samples: integer('samples').notNull(),
  },
  (t) => [primaryKey({ columns: [t.siteId, t.hour] })],
)

/** What the newest plan says of each device, for questions over all sites. */
export const inventory = pgTable(
  'inventory',
  {
    siteId: siteRef(),
    deviceId: text('device_id').notNull(),
    name: text('name').notNull(),
    profileId: text('profile_id').notNull(),
    serial: text('serial'),
    hardwareAddress: macaddr('hardware_address'),
  },
  (t) => [
    primaryKey({ columns: [t.siteId, t.deviceId] }),
    index('inventory_serial').on(t.serial),
    index('inventory_hardware_address').on(t.hardwareAddress),
  ],
)

/** Every network that the newest plan of a site uses or knows of, for questions over all sites. */
export const prefixes = pgTable(
  'prefixes',
  {
    siteId: siteRef(),
    entityId: text('entity_id').notNull(),
    /** `segment`, `provider` or the kind of a known network. */
    kind: text('kind').notNull(),
    name: text('name').notNull(),
    network: cidr('network').notNull(),
  },
  (t) => [
    index('prefixes_site').on(t.siteId),
    index('prefixes_network').using('gist', t.network.op('inet_ops')),
  ],
)

export const deviceStates = pgTable(
  'device_states',
  {
    siteId: siteRef(),
    deviceId: text('device_id').notNull(),
    state: text('state', { enum: adoptionStates }).notNull().default('planned'),
    /** Set from the claim on; no two claims of one serial. */
    claimedSerial: text('claimed_serial').unique(),
    claimSecretDigest: text('claim_secret_digest'),
    tokenHash: text('token_hash').unique(),
    sequence: integer('sequence').notNull().default(0),
    /** The kind of device that it says it is. */
    model: text('model'),
    firmware: text('firmware'),
    configurationDigest: text('configuration_digest'),
    address: inet('address'),
    factoryPassword: boolean('factory_password'),
    report: jsonb('report').$type<
      Pick<Report, 'ports'> & Partial<Pick<Report, 'lines' | 'paths' | 'phase' | 'clock'>>
    >(),
    lastHeardAt: at('last_heard_at'),
    changedAt: at('changed_at').notNull().defaultNow(),
  },
  (t) => [
    primaryKey({ columns: [t.siteId, t.deviceId] }),
    index('device_states_heard').on(t.lastHeardAt),
  ],
)

/**
 * Who calls without a token, whether its serial is in a plan or in none: each by the secret that it
 * has, so that two under one serial are two. Kept for as long as
 * they call.
 */
export const callers = pgTable(
  'callers',
  {
    serial: text('serial').notNull(),
    claimSecretDigest: text('claim_secret_digest').notNull(),
    hardwareAddress: macaddr('hardware_address').notNull(),
    model: text('model').notNull(),
    firmware: text('firmware').notNull(),
    address: inet('address').notNull(),
    /** Since when it calls without a pause. */
    firstHeardAt: at('first_heard_at').notNull().defaultNow(),
    lastHeardAt: at('last_heard_at').notNull().defaultNow(),
  },
  (t) => [
    primaryKey({ columns: [t.serial, t.claimSecretDigest] }),
    index('callers_heard').on(t.lastHeardAt),
  ],
)

export const deviceEvents = pgTable(
  'device_events',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    siteId: siteRef(),
    deviceId: text('device_id').notNull(),
    at: at('at').notNull().defaultNow(),
    event: text('event').notNull(),
    fromState: text('from_state').notNull(),
    toState: text('to_state').notNull(),
    detail: text('detail').notNull().default(''),
  },
  (t) => [index('device_events_site').on(t.siteId, t.id)],
)

export const deviceCommands = pgTable(
  'device_commands',
  {
    id: uuid('id')
      .primaryKey()
      .default(sql`gen_random_uuid()`),
    siteId: siteRef(),
    deviceId: text('device_id').notNull(),
    command: text('command', { enum: ['fetch', 'restart', 'locate'] }).notNull(),
    createdAt: at('created_at').notNull().defaultNow(),
    doneAt: at('done_at'),
  },
  (t) => [
    index('device_commands_open')
      .on(t.siteId, t.deviceId)
      .where(sql`done_at is null`),
  ],
)

/** What was sent to the devices of a site, and when. */
export const releases = pgTable(
  'releases',
  {
    siteId: siteRef(),
    number: integer('number').notNull(),
    /** Of the plan that it was made of. */
    revision: integer('revision').notNull(),
    state: text('state', { enum: ['sending', 'done', 'stopped'] }).notNull(),
    /** Why it was stopped. */
    why: text('why').notNull().default(''),
    note: text('note').notNull().default(''),
    accountId: uuid('account_id').references(() => accounts.id, { onDelete: 'set null' }),
    at: at('at').notNull().defaultNow(),
    endedAt: at('ended_at'),
    /** Devices go over to another controller with it. */
    goesOver: boolean('goes_over').notNull().default(false),
    /**
     * How many waves it has, which one is open, since when, and the moment at which its devices
     * load.
     */
    waves: integer('waves').notNull().default(0),
    wave: integer('wave').notNull().default(0),
    openedAt: at('opened_at'),
    applyAt: at('apply_at'),
    times: jsonb('times').$type<WaveTimes>().notNull(),
    /** Devices that are off while their cables are moved: nobody waits for them. */
    moved: jsonb('moved').$type<string[]>().notNull().default([]),
    /** Devices beside the open wave that were heard when it was opened. */
    witnesses: jsonb('witnesses').$type<string[]>().notNull().default([]),
    /** Keys and passwords that people and providers use with it, sealed. */
    keys: bytea('keys').notNull(),
  },
  (t) => [primaryKey({ columns: [t.siteId, t.number] })],
)

/** Documents of devices, sealed: they hold keys. */
export const documents = pgTable(
  'documents',
  {
    siteId: siteRef(),
    digest: text('digest').notNull(),
    sealed: bytea('sealed').notNull(),
  },
  (t) => [primaryKey({ columns: [t.siteId, t.digest] })],
)

/** What each device of a site is told now, and what it was told before. */
export const targets = pgTable(
  'targets',
  {
    siteId: siteRef(),
    deviceId: text('device_id').notNull(),
    release: integer('release').notNull(),
    /** 0 for who is in no wave. */
    wave: integer('wave').notNull().default(0),
    digest: text('digest').notNull(),
    firmware: text('firmware').notNull(),
    profileId: text('profile_id').notNull(),
    /**
     * `waiting` for its wave, whose turn it is not: it is told the one before. `open`: it loads
     * with the others of its wave. `kept`: it is the device's.
     */
    state: text('state', { enum: ['waiting', 'open', 'kept'] }).notNull(),
    heldAt: at('held_at'),
    appliedAt: at('applied_at'),
    wentBack: boolean('went_back').notNull().default(false),
    /** How long the device tries the document before it goes back, s. */
    trialSeconds: integer('trial_seconds').notNull(),
    /** Told before: release, digest, firmware, profileId; null where there was nothing. */
    before: jsonb('before').$type<{
      release: number
      digest: string
      firmware: string
      profileId: string
      trialSeconds: number
    }>(),
  },
  (t) => [primaryKey({ columns: [t.siteId, t.deviceId] })],
)

export const stepsDone = pgTable(
  'steps_done',
  {
    siteId: siteRef(),
    stepId: text('step_id').notNull(),
    doneAt: at('done_at').notNull().defaultNow(),
    /** When its wait is over. */
    readyAt: at('ready_at').notNull().defaultNow(),
    accountId: uuid('account_id').references(() => accounts.id, { onDelete: 'set null' }),
    /** As `revisions.author_name`. */
    whoName: text('who_name'),
    note: text('note').notNull().default(''),
    /** What the step said to do when it was done (`saysOf`); null where that is not known. */
    said: text('said'),
  },
  (t) => [primaryKey({ columns: [t.siteId, t.stepId] })],
)

export const evidence = pgTable(
  'evidence',
  {
    /**
     * Made by the browser, so of the site alone: that another site has the same tells nobody
     * anything.
     */
    id: uuid('id')
      .notNull()
      .default(sql`gen_random_uuid()`),
    siteId: siteRef(),
    kind: text('kind', {
      enum: ['proof', 'backup', 'note', 'photo', 'picture', 'reading', 'drill'],
    }).notNull(),
    /** `standins`, `person` or `controller`. */
    source: text('source').notNull(),
    at: at('at').notNull().defaultNow(),
    revision: integer('revision').notNull(),
    /** The release that devices had; null where there was none. */
    release: integer('release'),
    accountId: uuid('account_id').references(() => accounts.id, { onDelete: 'set null' }),
    /** As `revisions.author_name`. */
    whoName: text('who_name'),
    /** The step of the run sheet that it belongs to, if any. */
    stepId: text('step_id'),
    body: jsonb('body').$type<EvidenceBody>().notNull(),
    /** The octets of a photograph. */
    file: bytea('file'),
    mediaType: text('media_type'),
  },
  (t) => [
    primaryKey({ columns: [t.siteId, t.id] }),
    index('evidence_site').on(t.siteId, t.kind, t.at),
  ],
)

/**
 * The audit trail. Rows are written once: triggers refuse changes and chain every row to the one
 * before it by digest, and nothing that is
 * removed elsewhere takes them along.
 */
export const log = pgTable(
  'log',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    /** Null for what concerns accounts rather than a site. */
    siteId: text('site_id'),
    at: at('at').notNull().defaultNow(),
    accountId: uuid('account_id'),
    /** The name at the time; filled in by the database. */
    who: text('who').notNull().default(''),
    what: text('what').notNull(),
    previous: bytea('previous')
      .notNull()
      .default(sql`''::bytea`),
    digest: bytea('digest')
      .notNull()
      .default(sql`''::bytea`),
  },
  (t) => [index('log_site').on(t.siteId, t.id)],
)

/** Sealed with AES-256-GCM; the key is outside the database. */
export const secrets = pgTable(
  'secrets',
  {
    siteId: siteRef(),
    ref: text('ref').notNull(),
    sealed: bytea('sealed').notNull(),
    changedAt: at('changed_at').notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.siteId, t.ref] })],
)
