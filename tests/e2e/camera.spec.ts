/**
 * A label held before the camera: the browser's own stand-in for a camera plays a film of a wall
 * and then of a code.
 */
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import QRCode from 'qrcode'
import { petrelStreet } from '../../demo/petrelStreet'
import configuration from '../../playwright.config'
import { Caller } from '../caller'
import { expect, NAME, PASSWORD, test } from './system'

const WIDTH = 640
const HEIGHT = 480

/** A film in the YUV4MPEG2 format, grey, of some frames of nothing and then of the code. */
function film(text: string): Buffer {
  const { modules } = QRCode.create(text)
  const scale = Math.floor((HEIGHT * 0.7) / modules.size)
  const [left, top] = [(WIDTH - modules.size * scale) >> 1, (HEIGHT - modules.size * scale) >> 1]
  const frame = (luma: (x: number, y: number) => number): Buffer => {
    const y = Buffer.alloc(WIDTH * HEIGHT)
    for (let i = 0; i < y.length; i++) y[i] = luma(i % WIDTH, Math.floor(i / WIDTH))
    return Buffer.concat([Buffer.from('FRAME\n'), y, Buffer.alloc((WIDTH * HEIGHT) / 2, 128)])
  }
  const wall = frame((x, y) => 120 + ((x + y) % 40))
  const code = frame((x, y) => {
    const [column, row] = [Math.floor((x - left) / scale), Math.floor((y - top) / scale)]
    const isDark =
      column >= 0 &&
      row >= 0 &&
      column < modules.size &&
      row < modules.size &&
      modules.get(row, column)
    return isDark ? 16 : 235
  })
  return Buffer.concat([
    Buffer.from(`YUV4MPEG2 W${WIDTH} H${HEIGHT} F10:1 Ip A1:1 C420mpeg2\n`),
    ...Array.from({ length: 40 }, () => wall),
    ...Array.from({ length: 40 }, () => code),
  ])
}
const path = join(mkdtempSync(join(tmpdir(), 'able-mast-film-')), 'label.y4m')
writeFileSync(path, film('S/N: AM-APX-51133'))

const usual = configuration.use!.launchOptions!
test.use({
  file: 'camera',
  launchOptions: {
    ...usual,
    args: [
      ...usual.args!,
      '--use-fake-ui-for-media-stream',
      '--use-fake-device-for-media-stream',
      `--use-file-for-fake-video-capture=${path}`,
    ],
  },
})

test('a serial is read off its label by the camera, which is seen while it looks and let go afterwards', async ({
  page,
  system,
}) => {
  const owner = await Caller.first(system.origin, NAME, PASSWORD)
  await owner.read('POST', '/api/sites', { name: 'Petrel Street Chandlery', plan: petrelStreet() })
  await page.goto(`${system.origin}/s/petrel-street-chandlery/survey`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page
    .getByRole('region', { name: 'Equipment' })
    .getByRole('row', { name: /^Shop AP/ })
    .click()
  await page.getByTitle('Read the serial off its label').click()
  await page.getByRole('button', { name: 'Use the camera' }).click()
  const view = page.getByLabel('What the camera sees')
  await expect.poll(async () => (await view.boundingBox())?.height ?? 0).toBeGreaterThan(150)
  await expect(page.getByLabel('Serial', { exact: true })).toHaveValue('AM-APX-51133')
  await expect(view).toHaveCount(0)
  await expect
    .poll(
      async () =>
        Object.values(
          (
            await owner.read<{ plan: ReturnType<typeof petrelStreet> }>(
              'GET',
              '/api/sites/petrel-street-chandlery',
            )
          ).plan.devices,
        ).find((d) => d.name === 'Shop AP')!.serial,
    )
    .toBe('AM-APX-51133')
})
