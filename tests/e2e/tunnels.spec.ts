/** Tunnels: keys made and handed out once, a provider's file read in, who reaches what. */
import type { Page } from '@playwright/test'
import { applyEdits, editCall } from '@mast/core/plan'
import { handOutPeer, makeTunnelKey, openHandOut, readSite } from '@mast/api'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { Person } from '../../demo/person'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { petrelStreet } from '../../demo/petrelStreet'
import { Caller } from '../caller'
import { labelled, mended } from '../sites/broughtUp'
import { expect, NAME, PASSWORD, settled, test } from './system'

test.use({ file: 'tunnels' })

/** The harbour on its sheet of tunnels. */
async function opened(page: Page, origin: string): Promise<{ person: Person; site: string }> {
  const person = new Person(origin)
  await person.enter(NAME, PASSWORD)
  const { id: site } = await person.open(kittiwakeHarbour())
  await page.goto(`${origin}/s/${site}/tunnels`)
  await page.getByLabel('Name', { exact: true }).fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await settled(page)
  return { person, site }
}

test('a file is handed out once, by a link that needs no account, and its key is nowhere after that', async ({
  page,
  system,
  browser,
}) => {
  const { person, site } = await opened(page, system.origin)
  await page.getByRole('tab', { name: 'People on the road' }).click()
  await page.getByRole('button', { name: 'Make the key of this end here' }).click()
  await expect(page.getByRole('button', { name: 'Roll the key of this end' })).toBeVisible()
  // Chosen on the wheel by its keys, as everybody at its other end.
  const wheel = page.getByRole('region', { name: 'Wheel' })
  const end = wheel.getByRole('button', { name: 'Office laptop' })
  await end.focus()
  await page.keyboard.press('Enter')
  await expect(end).toHaveAttribute('aria-pressed', 'true')
  const peer = page.getByRole('region', { name: 'Office laptop' })
  const file = peer.getByLabel('File of the peer, without its key')
  await expect(file).toContainText('AllowedIPs = 172.0.30.1/32, 10.20.20.0/24')
  await expect(file).toContainText('Endpoint = kittiwake.example.org:51820')
  await expect(file).not.toContainText(/^PrivateKey/m)
  await peer.getByRole('button', { name: 'Make its key here' }).click()
  await peer.getByLabel(/^Handing it out once/).check()
  await peer.getByRole('button', { name: /^Link that opens once/ }).click()
  const url = await peer
    .getByRole('status')
    .filter({ hasText: 'Opens once' })
    .locator('.long')
    .innerText()
  await expect(page.getByRole('table', { name: 'Peers of the tunnel' })).toContainText(
    /waits until/,
  )

  // On a phone that nobody signed in with: looking opens nothing, opening does, once.
  const stranger = await browser.newContext({ viewport: { width: 390, height: 844 } })
  const phone = await stranger.newPage()
  await phone.goto(url)
  await phone.reload()
  await expect(phone.getByText('It opens once')).toBeVisible()
  const [answer] = await Promise.all([
    phone.waitForResponse((r) => r.request().method() === 'POST' && r.url().includes('hand-outs')),
    phone.getByRole('button', { name: 'Open it now' }).click(),
  ])
  const { text } = (await answer.json()) as { text: string }
  const key = /^PrivateKey = (\S{44})$/m.exec(text)![1]!
  await expect(phone.getByRole('img', { name: /^Code with the file/ })).toBeVisible()
  await phone.reload()
  await expect(phone.getByText('this link was opened, is too old, or never was')).toBeVisible()
  await stranger.close()

  // It is shown by no route, to nobody.
  const cookies = (await page.context().cookies()).map((c) => `${c.name}=${c.value}`).join('; ')
  const seen: string[] = []
  for (const path of [
    ...['', '/log', '/revisions', '/secrets', '/hand-outs', '/devices', '/evidence', '/steps'],
    '/secrets/x25519-peer-office-laptop',
    '/devices/gateway/configuration',
  ]) {
    const reply = await fetch(`${system.origin}/api/sites/${site}${path}`, {
      headers: { cookie: cookies },
    })
    seen.push(await reply.text())
    if (path.startsWith('/secrets/')) expect(reply.status).toBe(422)
  }
  expect(seen.filter((t) => t.includes(key))).toEqual([])
  expect(await page.content()).not.toContain(key)
  const { plan } = await person.ask(readSite, { params: { site } })
  expect(plan.peers['office-laptop']!.carriedBy).toBe('link')
  // The key of this end goes to the gateway with its configuration, and into nothing else.
  const own = /"privateKey":"(\S{44})"/.exec(seen.at(-1)!)![1]!
  expect(seen.slice(0, -1).filter((t) => t.includes(own))).toEqual([])
  expect(JSON.stringify(plan)).not.toContain(own)
  await page.reload()
  await settled(page)
  await expect(page.getByRole('table', { name: 'Peers of the tunnel' })).toContainText(/opened/)
  // Without its key there is nothing to hand out a second time.
  await page.getByRole('button', { name: 'Office laptop', exact: true }).first().click()
  await peer.getByLabel(/^Handing it out once/).check()
  await peer.getByRole('button', { name: 'Show it here, once' }).click()
  await expect(peer.getByText(/A key that was handed out once is not here any more/)).toBeVisible()
  await peer.getByRole('button', { name: 'Roll its key' }).click()
  await expect(peer.getByText(/A key that was handed out once/)).toHaveCount(0)
  await peer.getByRole('button', { name: 'Show it here, once' }).click()
  await expect(peer.getByRole('img', { name: /^Code with the file/ })).toBeVisible()
  await peer.getByRole('button', { name: 'Put it away' }).click()
  await expect(peer.getByRole('img', { name: /^Code with the file/ })).toHaveCount(0)

  // Of many who open it at once, one gets it.
  const params = { site }
  await person.ask(makeTunnelKey, { params, body: { of: 'peer', id: 'office-laptop' } })
  const { token } = await person.ask(handOutPeer, {
    params,
    body: { peerId: 'office-laptop', hours: 1 },
  })
  const opens = await Promise.allSettled(
    Array.from({ length: 6 }, () => person.ask(openHandOut, { params: { token } })),
  )
  expect(opens.filter((o) => o.status === 'fulfilled')).toHaveLength(1)
})

test("a provider's file is read, what it says wrong by line, and both sides stand next to each other", async ({
  page,
  system,
}) => {
  const { site } = await opened(page, system.origin)
  const shared = Buffer.alloc(32, 9).toString('base64')
  await page.getByLabel('Read a file').setInputFiles({
    name: 'south.conf',
    mimeType: 'text/plain',
    buffer: Buffer.from(
      [
        '[Interface]',
        'PrivateKey = cut',
        'Address = 10.66.1.9/32',
        'Table = off',
        '# southern exit',
        '[Peer]',
        'PublicKey = et8BasmTFKtQxCO+Sjoou6DzEBVxwhhl/w5/qLSJSlE=',
        `PresharedKey = ${shared}`,
        'AllowedIPs = 0.0.0.0/0',
        'Endpoint = south.charts.example:51820',
      ].join('\r\n'),
    ),
  })
  const tunnels = page.getByRole('region', { name: 'Tunnels', exact: true })
  await expect(tunnels).toContainText('line 2, column 14: PrivateKey is no key')
  await expect(tunnels).toContainText('Not understood, and left to the file: Table (line 4).')
  await expect(page.getByRole('tab', { name: 'south' })).toHaveAttribute('aria-selected', 'true')
  const table = page.getByRole('table', { name: 'Peers of the tunnel' })
  await expect(table).toContainText('southern exit')
  await expect(page.getByText('south is up, and nobody goes through it.')).toBeVisible()
  // The shared key of the file is in the vault, and not in the plan.
  const caller = await Caller.first(system.origin, NAME, PASSWORD)
  await expect
    .poll(async () =>
      (await caller.read<{ ref: string }[]>('GET', `/api/sites/${site}/secrets`)).map((s) => s.ref),
    )
    .toContainEqual(expect.stringMatching(/^shared-.*southern-exit$/))
  expect(JSON.stringify(await caller.read('GET', `/api/sites/${site}`))).not.toContain(shared)

  await page.getByRole('tab', { name: 'To the chandlery' }).click()
  const sides = page.getByRole('table', { name: 'Both sides of the tunnel' })
  await expect(sides).toContainText('kittiwake.example.org:51821')
  await expect(sides).toContainText('10.250.40.2/32, 192.168.1.0/24')
  await page.getByRole('button', { name: 'Let To the chandlery into Office' }).click()
  await expect(sides).toContainText('10.20.20.0/24')

  await page.getByText('It does not work: read what this end says').click()
  await page
    .getByLabel('What wg show prints')
    .fill('interface: wg1\n  public key: (none)\n  listening port: 51999')
  const says = page.getByRole('region', { name: 'What it says' })
  await expect(says).toContainText('It listens on UDP 51999, and is called on 51821.')
  await expect(says).toContainText('Petrel Street Chandlery is not known there.')

  await page.getByRole('button', { name: 'Tunnel for people' }).click()
  await page.getByRole('button', { name: 'Add a device' }).click()
  await expect(table).toContainText('New device')
  const facts = page.getByRole('region', { name: 'The tunnel' })
  await facts.getByLabel('Who keeps the name right').fill('by pigeon')
  await facts.getByLabel('Who keeps the name right').press('Enter')
  await expect(facts).toContainText('expected how, the server and the time to live')
  await facts.getByRole('button', { name: 'Remove the tunnel' }).click()
  await expect(table).not.toContainText('New device')
})

test('IKEv2 with a foreign end is set up on the sheet, and what the other end needs is a file', async ({
  page,
  system,
}) => {
  const { person, site } = await opened(page, system.origin)
  await page.getByRole('tab', { name: 'To the chandlery' }).click()
  await page.getByRole('combobox', { name: 'Protocol' }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('option', { name: 'IKEv2' }).click()
  // The remark about it, once it is there, has the same button.
  await page.getByRole('button', { name: 'Propose what is usual' }).first().click()
  const ends = page.getByRole('table', { name: 'Both ends of IKEv2' })
  await ends.getByLabel('Identity of the other end, here').fill('petrel')
  await ends.getByLabel('Identity of the other end, here').press('Enter')
  await ends.getByLabel('Networks here, here').fill('10.20.20.0/24')
  await ends.getByLabel('Networks here, here').press('Enter')
  await ends.getByLabel('Proposal, there', { exact: true }).fill('aes128-sha256-modp2048')
  await ends.getByLabel('Proposal, there', { exact: true }).press('Enter')
  await expect(ends).toContainText('no proposal chosen: nothing comes up')
  await page.getByRole('button', { name: 'Have the other end set as this one is' }).click()
  await expect(ends).not.toContainText('no proposal chosen')

  const peer = page.getByRole('region', { name: 'Petrel Street Chandlery' })
  await peer.getByLabel('Called at').fill('petrel.example.org')
  await peer.getByLabel('Called at').press('Enter')
  await expect(peer.getByLabel('Called at')).toHaveValue('petrel.example.org:500')
  await expect(peer).toContainText('share no key yet')
  await peer.getByRole('button', { name: 'Make a shared key' }).click()
  await peer.getByRole('button', { name: 'Show it' }).click()
  await expect(peer.getByRole('status').filter({ hasText: /^\S{14,}$/ })).toBeVisible()
  const file = peer.getByLabel('What the other end is set to')
  await expect(file).toContainText('id = "petrel"')
  await expect(file).toContainText('remote_ts = 10.20.20.0/24')
  // The key is told by another way than the rest.
  await expect(file).not.toContainText('secret =')
  const { plan } = await person.ask(readSite, { params: { site } })
  expect(plan.peers['petrel-street']!.sharedKeyRef).toBe('shared-petrel-street')
})

test('own sites are joined: an end in each plan, keys in each vault, and what stands in the way is told', async ({
  page,
  system,
}) => {
  const { person, site } = await opened(page, system.origin)
  const caller = await Caller.first(system.origin, NAME, PASSWORD)
  const { id: slip } = await caller.read<{ id: string }>('POST', '/api/sites', {
    name: 'Slipway of ours',
    plan: dunlinSlipway(),
  })
  const { id: twin } = await caller.read<{ id: string }>('POST', '/api/sites', {
    name: 'The same numbers',
    plan: kittiwakeHarbour(),
  })
  await page.getByRole('button', { name: 'Join own sites' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('The same numbers').check()
  await dialog.getByRole('button', { name: 'Join them' }).click()
  await expect(dialog.getByRole('alert')).toContainText('of The same numbers is in use at')
  expect((await person.ask(readSite, { params: { site: twin } })).revision).toBe(1)
  await dialog.getByLabel('The same numbers').uncheck()
  await dialog.getByLabel('Slipway of ours').check()
  await dialog.getByRole('button', { name: 'Join them' }).click()
  await expect(dialog.getByRole('status')).toContainText('Joined: ')
  await dialog.getByRole('button', { name: 'Close' }).click()
  await page.getByRole('tab', { name: 'Our sites' }).click()

  const [here, there] = await Promise.all(
    [site, slip].map(async (id) => (await person.ask(readSite, { params: { site: id } })).plan),
  )
  const mine = here!.tunnels['our-sites']!
  const theirs = there!.tunnels['our-sites']!
  const peer = Object.values(there!.peers).find((p) => p.siteId === site)!
  expect([peer.publicKey, peer.endpoint?.host]).toEqual([mine.publicKey, 'kittiwake.example.org'])
  expect(Object.values(here!.peers).find((p) => p.siteId === slip)!.publicKey).toBe(
    theirs.publicKey,
  )
  // What it joins with lies in both vaults, and no route shows it.
  for (const [id, ref] of [
    [site, mine.privateKeyRef],
    [slip, theirs.privateKeyRef],
    [slip, peer.sharedKeyRef],
  ] as const) {
    const refs = await caller.read<{ ref: string }[]>('GET', `/api/sites/${id}/secrets`)
    expect(refs.map((r) => r.ref)).toContain(ref)
    expect(await caller.status('GET', `/api/sites/${id}/secrets/${ref}`)).toBe(422)
  }
  // Of a site that one is no engineer of, nothing is changed.
  const stranger = await Caller.invited(caller, site, 'second engineer', PASSWORD, 'engineer')
  const asked = { others: [slip], shape: 'hub' }
  expect(await stranger.status('POST', `/api/sites/${site}/tunnels/joins`, asked)).toBe(404)
})

test('a shop is brought up through its tunnel by the controller at the other end, and proven', async ({
  page,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  // What is asked before anything is unplugged is known by now, and findings are mended.
  const facts = {
    mtu: 1500,
    pinnedHardwareAddress: 'none' as const,
    forcedSpeedMbps: 'negotiated' as const,
  }
  const shop = labelled(
    mended(
      applyEdits(
        petrelStreet(),
        ['cable', 'stick'].map((uplinkId) => editCall('recordHandOff', { uplinkId, facts })),
      ),
    ),
  )
  const { id } = await person.open(shop)
  await person.makeTunnelKeys(id)
  await person.edit(id, 'The key of the harbour came', [
    editCall('changePeer', {
      id: 'kittiwake',
      changes: { publicKey: 'oYIAdGvP0n8t+c8ZzEWpyRRLUoREzGhDI6xvmnUgcgI=' },
    }),
  ])
  await person.bringUp(id)
  await page.goto(`${system.origin}/s/${id}/prove`)
  await page.getByLabel('Name', { exact: true }).fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText(/Proven: all/)).toBeVisible()
  const grid = page.getByRole('table', { name: 'Proof grid: expected and observed' })
  await grid.getByRole('button', { name: /^To the harbour to gateway/ }).click()
  await expect(
    page.getByText(/Kittiwake Harbour and To the harbour shake hands, from outside/),
  ).toBeVisible()
})
