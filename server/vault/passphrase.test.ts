import { expect, it } from 'vitest'
import { openUnder, sealUnder } from './passphrase'

it('opens under its passphrase alone, in whatever form its letters are composed', async () => {
  const sealed = await sealUnder('caf\u00e9 by the quay', 'the key')
  expect(JSON.stringify(sealed)).not.toContain('the key')
  expect(await openUnder('cafe\u0301 by the quay', sealed)).toBe('the key')
  expect(await openUnder('cafe by the quay', sealed)).toBeUndefined()
})
it('is undone by any change, and a file cannot ask for more work than is usual', async () => {
  const sealed = await sealUnder('a long line of rope', 'the key')
  expect(
    await openUnder('a long line of rope', {
      ...sealed,
      body: Buffer.from('another').toString('base64'),
    }),
  ).toBeUndefined()
  expect(await openUnder('a long line of rope', { ...sealed, N: 2 ** 24 })).toBeUndefined()
})
