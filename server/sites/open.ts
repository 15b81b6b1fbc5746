/** Sites opened and brought in and out as files: large, so threads do it. */
import { Refused, siteIsGone } from '../refusal'
import { Shares } from '../work/queue'
import { inThread, TooLong } from '../work/workers'
import { roomForASite } from './limits'

const OPEN_MS = 30_000
const FILE_MS = 120_000
/** Files are large; each account brings in one at a time. */
const imports = new Shares('site files of one account', 1)

interface Opened {
  readonly id: string
  readonly revision: number
}

async function within<T>(work: Promise<T>, tooLong: () => Refused): Promise<T> {
  try {
    return await work
  } catch (error) {
    throw error instanceof TooLong ? tooLong() : error
  }
}

/** Opens a site, empty or from a plan document. @param octets of the request */
export async function openFrom(octets: Uint8Array, accountId: string): Promise<Opened> {
  await roomForASite(accountId)
  return within(
    inThread(
      'open',
      { octets, accountId },
      { accountId, maxMs: OPEN_MS, transfer: [octets.buffer as ArrayBuffer] },
    ),
    () => new Refused('not-possible', 'this plan takes too long to read; take parts of it out'),
  )
}

/** @param octets of the request, read when it is this account's turn */
export async function bringInFrom(
  octets: () => Promise<Uint8Array>,
  accountId: string,
): Promise<Opened> {
  const leave = imports.take(accountId)
  try {
    await roomForASite(accountId)
    const file = await octets()
    return await within(
      inThread(
        'bringIn',
        { octets: file, accountId },
        { accountId, maxMs: FILE_MS, transfer: [file.buffer as ArrayBuffer] },
      ),
      () =>
        new Refused(
          'not-possible',
          'this file takes too long to read; bring the site in as a plan document, without its ' +
            'history',
        ),
    )
  } finally {
    leave()
  }
}

/** The octets of a site file. */
export async function takeOut(
  siteId: string,
  passphrase: string | null,
  accountId: string,
): Promise<Uint8Array> {
  const file = await within(
    inThread('takeOut', { siteId, passphrase, accountId }, { accountId, maxMs: FILE_MS }),
    () =>
      new Refused('busy', 'the site takes too long to write out; try again when less is going on'),
  )
  if (!file) throw siteIsGone()
  return file
}
