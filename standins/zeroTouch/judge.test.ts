/** What is not signed for a device is refused, with what is wrong. */
import { describe, expect, it } from 'vitest'
import {
  certificatesCms,
  certified,
  CONTENT,
  plainCms,
  signedCms,
  type BootstrapOutput,
  type Conveyed,
  type Signer,
} from '@mast/protocol/zeroTouch'
import { base64 } from './base64'
import { judged, type Newcomer } from './judge'
import { Maker, type VouchedFor } from './maker'

const now = new Date('2026-11-29T08:00:00Z')
const after = (days: number): Date => new Date(now.getTime() + days * 86_400_000)
const SERIAL = 'AM-SWI-48274'
const onboarding: Conveyed = {
  'ietf-sztp-conveyed-info:onboarding-information': {
    'configuration-handling': 'replace',
    configuration: base64(new TextEncoder().encode('{"kind":"switch"}')),
  },
}
const redirect: Conveyed = {
  'ietf-sztp-conveyed-info:redirect-information': {
    'bootstrap-server': [{ address: '10.20.10.5' }, { address: 'sztp.example', port: 8443 }],
  },
}

const maker = await Maker.make()
const authority = (name: string): Promise<Signer> =>
  certified({ name, from: after(-30), until: after(300), isAuthority: true })
const owner = await authority('Owner')
const desk = await certified(
  { name: 'Owner, desk', from: after(-30), until: after(300), isAuthority: false },
  owner,
)
const device = (more: Partial<Newcomer> = {}): Newcomer => ({
  serial: SERIAL,
  anchors: [maker.anchor],
  nonce: null,
  now,
  ...more,
})
interface Given {
  readonly conveyed?: Conveyed
  readonly by?: Signer
  readonly voucher?: Partial<VouchedFor>
  readonly from?: Maker
}
async function output({ conveyed = onboarding, by = desk, voucher, from = maker }: Given = {}) {
  const text = new TextEncoder().encode(JSON.stringify(conveyed))
  return {
    'conveyed-information': base64(await signedCms(CONTENT.conveyedJson, text, by)),
    'owner-certificate': base64(certificatesCms([by.certificate, owner.certificate])),
    'ownership-voucher': base64(
      await from.voucher({
        serial: SERIAL,
        owner: owner.certificate,
        createdOn: after(-1),
        ...(voucher?.nonce ? {} : { expiresOn: after(7) }),
        ...voucher,
      }),
    ),
  } satisfies BootstrapOutput
}
const plain = (conveyed: Conveyed): BootstrapOutput => ({
  'conveyed-information': base64(
    plainCms(CONTENT.conveyedJson, new TextEncoder().encode(JSON.stringify(conveyed))),
  ),
})

describe('a new device', () => {
  it('takes what its owner signed, for whom its maker vouches', async () => {
    expect(await judged(await output(), device())).toEqual({
      kind: 'onboarding',
      information: onboarding['ietf-sztp-conveyed-info:onboarding-information'],
    })
    const nonce = Uint8Array.of(1, 2, 3, 4)
    const answered = await output({ voucher: { nonce } })
    expect(await judged(answered, device({ nonce }))).toMatchObject({ kind: 'onboarding' })
  })
  it('is led on by a stranger, and does not trust where to; signed it does', async () => {
    const servers = [
      { address: '10.20.10.5', port: 443 },
      { address: 'sztp.example', port: 8443 },
    ]
    expect(await judged(plain(redirect), device())).toEqual({
      kind: 'redirect',
      servers,
      isTrusted: false,
    })
    expect(await judged(await output({ conveyed: redirect }), device())).toEqual({
      kind: 'redirect',
      servers,
      isTrusted: true,
    })
  })
  it.each<[string, () => Promise<BootstrapOutput>, Partial<Newcomer>, RegExp]>([
    ['nobody signed', async () => plain(onboarding), {}, /^nobody signed it/],
    [
      'somebody else signed',
      async () => output({ by: await authority('Owner') }),
      {},
      /not signed by the owner that the voucher names/,
    ],
    [
      'another maker vouches for',
      async () => output({ from: await Maker.make() }),
      {},
      /^the voucher is not from its maker/,
    ],
    ['is for another serial', () => output(), { serial: 'AM-SWI-48275' }, /this is AM-SWI-48275$/],
    ['has expired', () => output(), { now: after(8) }, /^the voucher expired at/],
    ['was vouched for later', () => output(), { now: after(-2) }, /has not come$/],
    [
      'was given before, to another question',
      () => output({ voucher: { nonce: Uint8Array.of(1, 2, 3, 4) } }),
      { nonce: Uint8Array.of(5, 6, 7, 8) },
      /it was used before$/,
    ],
    [
      'answers a question that it did not ask',
      () => output({ voucher: { nonce: Uint8Array.of(1, 2, 3, 4) } }),
      {},
      /it was used before$/,
    ],
    [
      'comes without its voucher',
      async () => ({ ...(await output()), 'ownership-voucher': undefined }),
      {},
      /nobody says by whom$/,
    ],
    [
      'has the voucher in the place of what is conveyed',
      async () => {
        const o = await output()
        return { ...o, 'conveyed-information': o['ownership-voucher'] }
      },
      {},
      /of another kind$/,
    ],
    [
      'is no message at all',
      async () => ({ 'conveyed-information': base64(new Uint8Array(20)) }),
      {},
      /no CMS message/,
    ],
  ])('refuses what %s', async (_, make, more, why) => {
    const verdict = await judged(await make(), device(more))
    expect(verdict.kind).toBe('refused')
    expect(verdict.kind === 'refused' && verdict.why).toMatch(why)
  })
  it('refuses what was changed on the way, wherever', async () => {
    const good = await output()
    for (const part of ['conveyed-information', 'ownership-voucher'] as const) {
      const der = Buffer.from(good[part], 'base64')
      const at = der.indexOf(part === 'ownership-voucher' ? 'AM-SWI' : 'replace')
      der[at] = der[at]! ^ 1
      expect((await judged({ ...good, [part]: base64(der) }, device())).kind).toBe('refused')
    }
  })
})
