/** The key that a passphrase and the name of its network make (IEEE 802.11i, annex J.4.1). */
import { pbkdf2 } from '@noble/hashes/pbkdf2.js'
import { sha1 } from '@noble/hashes/legacy.js'
import { bytesToHex } from '@noble/hashes/utils.js'

/** Rounds of PBKDF2, and octets that come out. */
const ROUNDS = 4096
const OCTETS = 32

/** 64 hexadecimal digits. */
export const preSharedKey = (passphrase: string, networkName: string): string =>
  bytesToHex(
    pbkdf2(sha1, passphrase, new TextEncoder().encode(networkName), { c: ROUNDS, dkLen: OCTETS }),
  )
