import * as api from '@mast/api'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { Person } from '../../demo/person'
import { Caller } from '../caller'
import { change } from '../load/system'
import { expect, NAME, PASSWORD, test } from './system'

test.use({ file: 'releases' })

test(
  'editing reaches no device until it is sent; what would lock out is kept back, and what does ' +
    'goes back by itself',
  async ({ page, system }) => {
    const person = new Person(system.origin)
    await person.enter(NAME, PASSWORD)
    const { id } = await person.open(dunlinSlipway())
    await person.bringUp(id)
    const at = `/api/sites/${id}`
    const params = { site: id }
    await person.ask(api.setSpeed, { params, body: { speed: 200 } })
    const edit = async (name: string, args: object): Promise<void> => {
      const { revision } = await person.ask(api.readSite, { params })
      await person.ask(api.saveChanges, {
        params,
        body: { base: revision, changes: [change(name, args)] },
      })
    }
    const roll = () => person.ask(api.readRoll, { params })
    const send = (revision: number) =>
      person.ask(api.sendRelease, { params, body: { revision, note: '' } })
    const sent = () => person.ask(api.readReleases, { params })
    const standsOn = async (release: number): Promise<void> => {
      await expect(async () =>
        expect(
          (await roll()).devices.map((d) => [
            d.deviceId,
            d.state,
            d.release,
            d.configurationMatches,
          ]),
        ).toEqual(['gateway', 'switch', 'hut-ap'].map((d) => [d, 'in-service', release, true])),
      ).toPass({ timeout: 90_000 })
    }

    await page.goto(`${system.origin}/s/${id}/adopt`)
    await page.getByLabel('Name').fill(NAME)
    await page.getByLabel('Password').fill(PASSWORD)
    await page.getByRole('button', { name: 'Sign in' }).click()
    const strip = page.getByRole('region', { name: 'What was sent' })
    await expect(strip).toContainText('Devices have release 1 of revision 1')

    await test.step('an edit stays in the plan', async () => {
      await edit('changeSegment', { id: 'management', changes: { vlanId: 77 } })
      await expect(strip).toContainText('The plan has changes for 3 devices that nobody sent')
      // Twenty times to and fro, and nothing of it is a device's matter.
      for (let n = 0; n < 10; n++) {
        await edit('changeSegment', { id: 'management', changes: { vlanId: 78 } })
        await edit('changeSegment', { id: 'management', changes: { vlanId: 77 } })
      }
      const { devices } = await roll()
      expect(devices.map((d) => [d.state, d.release, d.configurationMatches, d.isUnsent])).toEqual(
        devices.map(() => ['in-service', 1, true, true]),
      )
    })

    await test.step('it is looked at and sent, to all at one moment', async () => {
      const { revision } = await person.ask(api.readSite, { params })
      await expect(page.getByRole('banner').getByRole('status')).toContainText(`rev ${revision}`)
      await strip.getByRole('button', { name: 'Send to devices (3)' }).click()
      const dialog = page.getByRole('dialog', { name: 'Send to devices' })
      await dialog.getByText('Hut switch', { exact: true }).click()
      await expect(dialog.getByRole('cell', { name: 'own page, VLAN' }).first()).toBeVisible()
      await expect(
        dialog.getByText(/Slipway gateway, Hut switch, Hut AP, at one moment/),
      ).toBeVisible()
      await dialog.getByLabel('What it is for').fill('management moves to 77')
      await dialog.getByRole('button', { name: 'Send', exact: true }).click()
      await expect(dialog).toBeHidden()
      await expect(strip).toContainText('Devices have release 2', { timeout: 90_000 })
      await expect(strip).toContainText('management moves to 77')
      await standsOn(2)
    })

    await test.step('the proof and the hand-over are of the release', async () => {
      await page.goto(`${system.origin}/s/${id}/prove`)
      await page.getByRole('button', { name: 'Run the proof' }).click()
      await expect(page.getByText(/Proven: all/)).toBeVisible({ timeout: 90_000 })
      await expect(page.getByRole('status').filter({ hasText: 'Of release 2' })).toBeVisible()
      await page.goto(`${system.origin}/s/${id}/hand-over`)
      await expect(
        page.getByText(/The devices have release 2 of revision \d+, sent .* by /),
      ).toBeVisible()
    })

    await test.step('what would lock a device out is not sent, and says what to do instead', async () => {
      await edit('setUntagged', { segmentId: 'visitors', portIds: ['switch.2'] })
      await page.goto(`${system.origin}/s/${id}/adopt`)
      await strip.getByRole('button', { name: /Send to devices/ }).click()
      const dialog = page.getByRole('dialog', { name: 'Send to devices' })
      await expect(dialog.getByText(/Hut AP would no longer find the controller: /)).toBeVisible()
      await expect(dialog.getByRole('button', { name: 'Send', exact: true })).toBeDisabled()
      const { revision } = await person.ask(api.readSite, { params })
      await expect(send(revision)).rejects.toThrow(/422/)
      await dialog.getByRole('button', { name: 'Not now' }).click()
      await edit('setUntagged', { segmentId: 'management', portIds: ['switch.2'] })
      await edit('addTag', { segmentId: 'visitors', portIds: ['switch.2'] })
      expect((await sent()).releases.map((r) => r.number)).toEqual([2, 1])
    })

    await test.step('what nobody foresaw goes back by itself, and nobody is lost', async () => {
      await edit('setController', { port: 8099 })
      const { revision } = await person.ask(api.readSite, { params })
      await send(revision)
      await expect(send(revision)).rejects.toThrow(/is being sent/)
      await expect(person.ask(api.runProof, { params, body: { only: null } })).rejects.toThrow(
        /is being sent/,
      )
      await expect(strip).toContainText('Release 3 was stopped in wave 1 of 1', { timeout: 90_000 })
      await standsOn(2)
      expect(await sent()).toMatchObject({
        standing: 2,
        releases: [
          { number: 3, state: 'stopped' },
          { number: 2, state: 'done' },
          { number: 1, state: 'done' },
        ],
      })
    })

    await test.step(
      'with the stand-ins back in their boxes none stands, and the next has a number of its ' +
        'own',
      async () => {
        await edit('setController', { port: 8043 })
        await person.ask(api.putStandinsBack, { params })
        expect((await sent()).standing).toBeNull()
        const { revision } = await person.ask(api.readSite, { params })
        expect(await send(revision)).toEqual({
          number: 4,
        })
        expect(await sent()).toMatchObject({
          standing: 4,
          releases: [{ number: 4, state: 'done' }, { number: 3 }, { number: 2 }, { number: 1 }],
        })
      },
    )

    await test.step('only who may, sends; who and when is in the trail', async () => {
      const owner = await Caller.first(system.origin, NAME, PASSWORD)
      const installer = await Caller.invited(owner, id, 'hands', PASSWORD, 'installer')
      expect(await installer.status('POST', `${at}/releases`, { revision: 1, note: '' })).toBe(403)
      const { entries } = await person.ask(api.readLog, { params })
      expect(
        entries.filter((e) => /elease \d/.test(e.what)).map((e) => [e.who, e.what.split(':')[0]]),
      ).toEqual(
        expect.arrayContaining([
          [NAME, expect.stringMatching(/^Sent release 2 \(revision \d+\) to the devices$/)],
          ['', 'Release 3 was stopped in wave 1 of 1'],
        ]),
      )
    })
  },
)
