/** Seals a text under a passphrase or opens it, for the commands that are not TypeScript. Reads and writes JSON; nothing of it stands on a command line. */
import { readFileSync } from 'node:fs'
import { openUnder, sealUnder, type SealedText } from '../server/vault/passphrase'

const input = JSON.parse(readFileSync(0, 'utf8')) as { passphrase: string; text?: string; sealed?: SealedText }
process.stdout.write(JSON.stringify(process.argv[2] === 'seal' ? sealUnder(input.passphrase, input.text!) : openUnder(input.passphrase, input.sealed!) ?? null))
