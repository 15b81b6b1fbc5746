/**
 * Seals a text under a passphrase or opens it, and seals the memory of stand-ins, for the commands
 * that are not TypeScript. Reads and writes JSON; nothing of it stands on a command line.
 */
import { readFileSync } from 'node:fs'
import { sealingWith } from '../standins/control/seal'
import { openUnder, sealUnder, type SealedText } from '../server/vault/passphrase'

type Given =
  | { passphrase: string; text: string }
  | { passphrase: string; sealed: SealedText }
  | { key: string; name: string; text: string }
const input = JSON.parse(readFileSync(0, 'utf8')) as Given

async function outcome(): Promise<unknown> {
  if ('key' in input)
    return sealingWith(Buffer.from(input.key, 'base64'))
      .seal(input.text, input.name)
      .toString('base64')
  return 'text' in input
    ? sealUnder(input.passphrase, input.text)
    : ((await openUnder(input.passphrase, input.sealed)) ?? null)
}
process.stdout.write(JSON.stringify(await outcome()))
