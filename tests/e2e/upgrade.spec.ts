/**
 * A database of an earlier version of the application, with plans of an earlier version of the
 * document, under this one.
 */
import { randomBytes, randomUUID } from 'node:crypto'
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import { drizzle } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import pg from 'pg'
import {
  devices,
  locations,
  catalogue,
  createPlan,
  digestOf,
  parsePlan,
  runChange,
  PLAN_VERSION,
  type SitePlan,
} from '@mast/core/plan'
import { freePort } from '../../scripts/start/ports.mjs'
import { startPostgres } from '../../scripts/start/postgres.mjs'
import { startSystem } from '../../scripts/start/system.mjs'
import { Caller } from '../caller'

const folder = mkdtempSync(join(tmpdir(), 'able-mast-upgrade-'))
const databaseFolder = `${folder}-database`
test.afterAll(() => {
  for (const f of [folder, databaseFolder]) rmSync(f, { recursive: true, force: true })
})
const oldPlan = JSON.parse(readFileSync('tests/sites/petrelVersion1.json', 'utf8')) as {
  site: { name: string }
  version: number
}
/** The last version of the database in which every revision had its whole plan. */
const LAST_WITH_WHOLE_PLANS = 4
/** The last that took the word constructor as an id. */
const LAST_WITH_INHERITED_NAMES = 5

/** The migrations up to one of them. */
function migrationsUpTo(last: number): string {
  const migrationsFolder = join(folder, `migrations-${last}`)
  cpSync('server/db/migrations', migrationsFolder, { recursive: true })
  const journal = join(migrationsFolder, 'meta', '_journal.json')
  const { entries, ...rest } = JSON.parse(readFileSync(journal, 'utf8')) as { entries: unknown[] }
  writeFileSync(journal, JSON.stringify({ ...rest, entries: entries.slice(0, last) }))
  return migrationsFolder
}

async function connected<T>(url: string, work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    return await work(client)
  } finally {
    await client.end()
  }
}

test('is brought up at the start: old revisions are read, new ones are saved on top of them', async () => {
  const migrationsFolder = migrationsUpTo(LAST_WITH_WHOLE_PLANS)
  const before = await startPostgres(databaseFolder)
  await connected(before.url, async (client) => {
    await migrate(drizzle(client), { migrationsFolder })
    await client.query(`insert into sites (id, name, head) values ('petrel', $1, 2)`, [
      oldPlan.site.name,
    ])
    for (const number of [1, 2])
      await client.query(
        'insert into revisions (site_id, number, document, patches, inverse, summary) values ' +
          `('petrel', $1, $2, '[]', '[]', 'as it was')`,
        [number, oldPlan],
      )
  })
  await before.kept.stop()

  const system = await startSystem({
    ports: [await freePort()],
    databaseFolder,
    standinsFolder: join(folder, 'standins'),
    vaultKey: randomBytes(32).toString('base64'),
  })
  try {
    const caller = await Caller.first(system.origin, 'keeper', 'lamp-lens-log-book')
    await connected(system.url, (client) =>
      client.query(
        `insert into members (site_id, account_id, role) select 'petrel', id, 'owner' from accounts`,
      ),
    )
    const parsed = parsePlan(oldPlan)
    if (!parsed.ok) throw new Error(parsed.problems[0]!.reason)
    const changes = ['first', 'second'].map((name) => ({
      id: randomUUID(),
      kind: 'edit' as const,
      name: 'addLocation',
      args: { id: `place-${name}`, name, kind: 'building', mains: true },
    }))
    await caller.read('POST', '/api/sites/petrel/edits', { base: 2, changes })
    const wanted: SitePlan[] = [parsed.plan, parsed.plan]
    for (const change of changes) {
      const outcome = runChange(wanted.at(-1)!, change)
      if (outcome.ok) wanted.push(outcome.plan)
    }
    const read = await Promise.all(
      [1, 2, 3, 4].map((n) =>
        caller.read<{ plan: SitePlan }>('GET', `/api/sites/petrel/revisions/${n}`),
      ),
    )
    expect(read.map((r) => digestOf(r.plan))).toEqual(wanted.map(digestOf))
    // Patches of the present version never stand on a document of an earlier one.
    const rows = await connected(
      system.url,
      async (client) =>
        (
          await client.query<{ version: number; whole: boolean }>(
            `select version, document is not null as whole from revisions order by number`,
          )
        ).rows,
    )
    expect(rows).toEqual([
      { version: 1, whole: true },
      { version: 1, whole: true },
      { version: PLAN_VERSION, whole: true },
      { version: PLAN_VERSION, whole: false },
    ])
  } finally {
    await system.stop()
  }
})

test(
  'a site that could not be read, since something in it was named Constructor, is read again, ' +
    'with its history',
  async () => {
    const database = `${databaseFolder}-constructor`
    const before = await startPostgres(database)
    const first = createPlan('Builders')
    const place = (id: string, name: string): object => ({ id, name, ...locations.blank })
    const device = {
      id: 'constructor',
      name: 'Constructor',
      profileId: 'handset',
      ...devices.blank,
      locationId: 'constructor-yard',
    }
    const steps = [
      [
        {
          op: 'add',
          path: ['locations', 'constructor-yard'],
          value: place('constructor-yard', 'says "constructor" in its name'),
        },
      ],
      [
        { op: 'add', path: ['profiles', 'handset'], value: catalogue.handset },
        { op: 'add', path: ['devices', 'constructor'], value: device },
        {
          op: 'add',
          path: ['ports', 'constructor.eth0'],
          value: {
            id: 'constructor.eth0',
            deviceId: 'constructor',
            name: 'eth0',
            untaggedSegmentId: null,
            taggedSegmentIds: [],
          },
        },
      ],
      [{ op: 'replace', path: ['devices', 'constructor', 'serial'], value: 'AM-CON-1' }],
    ]
    await connected(before.url, async (client) => {
      await migrate(drizzle(client), {
        migrationsFolder: migrationsUpTo(LAST_WITH_INHERITED_NAMES),
      })
      await client.query(`insert into sites (id, name, head) values ('builders', 'Builders', 4)`)
      await client.query(
        'insert into revisions (site_id, number, version, document, patches, inverse, summary) ' +
          `values ('builders', 1, 2, $1, '[]', '[]', 'Site opened')`,
        [first],
      )
      for (const [i, patches] of steps.entries())
        await client.query(
          'insert into revisions (site_id, number, version, patches, inverse, summary) values ' +
            `('builders', $1, 2, $2, $3, 'x')`,
          [
            i + 2,
            JSON.stringify(patches),
            JSON.stringify(
              i === 2
                ? [{ op: 'replace', path: ['devices', 'constructor', 'serial'], value: null }]
                : [],
            ),
          ],
        )
      await client.query(
        `insert into inventory (site_id, device_id, name, profile_id) values ('builders', ` +
          `'constructor', 'Constructor', 'handset')`,
      )
      await client.query(
        `insert into steps_done (site_id, step_id) values ('builders', 'constructor.place')`,
      )
    })
    await before.kept.stop()
    const system = await startSystem({
      ports: [await freePort()],
      databaseFolder: database,
      standinsFolder: join(folder, 'standins-2'),
      vaultKey: randomBytes(32).toString('base64'),
    })
    try {
      const caller = await Caller.first(system.origin, 'keeper', 'lamp-lens-log-book')
      await connected(system.url, (client) =>
        client.query(
          `insert into members (site_id, account_id, role) select 'builders', id, 'owner' from accounts`,
        ),
      )
      const { plan } = await caller.read<{ plan: SitePlan }>('GET', '/api/sites/builders')
      expect(plan.devices['constructor-1']).toMatchObject({
        id: 'constructor-1',
        name: 'Constructor',
        serial: 'AM-CON-1',
        locationId: 'constructor-yard',
      })
      expect(plan.ports['constructor-1.eth0']).toMatchObject({ deviceId: 'constructor-1' })
      expect(plan.locations['constructor-yard']!.name).toBe('says "constructor" in its name')
      expect(
        (await caller.read<{ plan: SitePlan }>('GET', '/api/sites/builders/revisions/3')).plan
          .devices['constructor-1']!.serial,
      ).toBeNull()
      expect(
        (await caller.read<{ stepId: string }[]>('GET', '/api/sites/builders/steps')).map(
          (s) => s.stepId,
        ),
      ).toEqual(['constructor-1.place'])
      expect(
        (await caller.read<{ unread: string | null }[]>('GET', '/api/sites'))[0]!.unread,
      ).toBeNull()
    } finally {
      await system.stop()
      rmSync(database, { recursive: true, force: true })
    }
  },
)
