/**
 * What 500 people and 50 sites all with all reach, beside one trace for each pair; files and pictures
 * of 500 of them.
 */
import QRCode from 'qrcode'
import { trace } from '@mast/core/forwarding'
import { applyEdits, editCall as edit, type EditCall, type SitePlan } from '@mast/core/plan'
import { siteModel, type SiteModel } from '@mast/core/topology'
import {
  peerFile,
  privateKeyFrom,
  publicKeyOf,
  reckonTunnel,
  writeTunnelFile,
} from '@mast/core/tunnels'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { row, timed, type Row } from './measure'

const PEOPLE = 500
const SITES = 50
const keyOf = (n: number): string =>
  publicKeyOf(
    privateKeyFrom(
      Uint8Array.from({ length: 32 }, (_, i) => (n * (i + 3) + (n >> 8) * 7 + i) % 256),
    ),
  )!

function withPeers(kind: 'people' | 'sites', count: number): SitePlan {
  const address = (n: number): string => `10.240.${(n + 2) >> 8}.${(n + 2) & 255}`
  return applyEdits(kittiwakeHarbour(), [
    edit('addTunnel', {
      id: 'many',
      name: 'Many',
      kind,
      hostDeviceId: 'gateway',
      subnet: '10.240.0.0/16',
      listenPort: 51_900,
      endpointName: 'kittiwake.example.org',
      publicKey: keyOf(9999),
    }),
    ...Array.from({ length: count }, (_, n): EditCall =>
      edit('addPeer', {
        id: `many-${n}`,
        name: `Peer ${n}`,
        tunnelId: 'many',
        address: address(n),
        publicKey: keyOf(n),
        networks: kind === 'sites' ? [`10.${100 + n}.0.0/16`] : [],
      }),
    ),
    edit('stateIntent', {
      id: 'int-many',
      from: 'many',
      to: 'office-net',
      services: 'any',
      action: 'allow',
    }),
  ])
}
const fresh = (plan: SitePlan) => (): SiteModel => siteModel({ ...plan })
function reach(model: SiteModel): void {
  const { tunnel, peers } = reckonTunnel(model, model.plan.tunnels.many!)
  if (peers.length === 0 || !tunnel.isActive) throw new Error('nobody was reckoned')
}
function traces(model: SiteModel): void {
  const service = model.plan.services['svc-web']!
  let delivered = 0
  for (const p of Object.values(model.plan.peers))
    if (p.tunnelId === 'many')
      for (const s of model.segments)
        if (
          trace(model, { kind: 'peer', id: p.id }, { kind: 'segment', id: s.id }, service)
            .verdict === 'delivered'
        )
          delivered++
  if (delivered === 0) throw new Error('nothing was delivered')
}

export async function tunnels(): Promise<Row[]> {
  const people = withPeers('people', PEOPLE)
  // One trace works out the whole tunnel: a few of them stand for all.
  const few = withPeers('people', 20)
  const eachTrace = timed(3, fresh(few), traces) / 20
  const sites = withPeers('sites', SITES - 1)
  const model = siteModel(people)
  const r = reckonTunnel(model, people.tunnels.many!)
  const texts = r.peers.map((p) => writeTunnelFile(peerFile(r, p, {}).file))
  const files = timed(
    5,
    () => r.peers,
    (list) => {
      for (const p of list) writeTunnelFile(peerFile(r, p, {}).file)
    },
  )
  const began = performance.now()
  for (const text of texts) await QRCode.toString(text, { type: 'svg', errorCorrectionLevel: 'L' })
  const pictures = performance.now() - began
  return [
    row({
      name: `what ${PEOPLE} people reach, with files allowed both ways`,
      value: timed(3, fresh(people), reach),
      unit: 'ms',
      reference: 'one trace for each pair of peer and segment, ms',
      referenceValue: eachTrace * PEOPLE,
      aim: 'no more than it',
      met: (x) => x <= 1,
    }),
    row({
      name: `${SITES} sites all with all`,
      value: timed(3, fresh(sites), reach) * SITES,
      unit: 'ms',
      reference: 'one trace for each pair of peer and segment, ms',
      referenceValue: eachTrace * (SITES - 1) * SITES,
      aim: 'no more than it',
      met: (x) => x <= 1,
    }),
    row({
      name: `pictures of ${PEOPLE} files`,
      value: pictures,
      unit: 'ms',
      reference: 'writing the files, ms',
      referenceValue: files,
      aim: 'listed',
      met: () => true,
    }),
  ]
}
