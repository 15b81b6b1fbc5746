/** What is wrong with an access point, from what is let in and read on the air. */
import type { ProofResult } from '../proof/judge'
import { ids, stateOf, type Cause, type CauseFinder, type Evidence } from '../proof/cause'
import { listWords } from '../words'
import { bands } from '../radio/bands'
import { radiosOn, wallsOf } from './coverage/floorAir'
import { levelAt } from './coverage/levelAt'

/** A network that lets in everywhere but at one access point. */
function wrongKeys({ model, results, facts }: Evidence): Cause[] {
  const joins = results.filter((r) => r.test.kind === 'lease' && r.test.probe?.via)
  return Object.values(model.plan.wirelessNetworks).flatMap((network): Cause[] => {
    const own = joins.filter((r) => model.device(r.test.from).wirelessNetworkId === network.id)
    const refused = own.filter((r) => r.observation?.outcome === 'no-lease')
    if (refused.length === 0 || refused.length === own.length) return []
    return refused.flatMap((r): Cause[] => {
      const id = r.test.probe!.via!
      const point = model.device(id)
      // What sends other networks and lets in there is not off.
      const others = joins.filter((o) => o.test.probe!.via === id && o !== r)
      if (stateOf(facts, id) !== 'in-service' || others.some((o) => o.verdict !== 'as-planned'))
        return []
      return [
        {
          kind: 'wrong-key',
          text: `${point.name} lets nobody into '${network.name}' with its key.`,
          evidence: [
            `the same client is let in at ${listWords(
              own
                .filter((o) => o.verdict === 'as-planned')
                .map((o) => model.device(o.test.probe!.via!).name),
            )}`,
            ...(others.length > 0 ? [`other networks let in at ${point.name}`] : []),
          ],
          checks: [
            `Compare wanted and running configuration of ${point.name} in Adopt.`,
            'Send it its configuration again, or type the key anew on its page.',
            `Look whether ${point.name} carries the VLAN of '${network.name}' to its socket.`,
          ],
          explains: ids([r]),
          subjects: [id, network.id],
        },
      ]
    })
  })
}

interface Expected {
  readonly result: ProofResult
  /** Who is reckoned to be the loudest there, and how loud. */
  readonly deviceId: string
  readonly dbm: number
}

/** What was read in areas, against who was to be heard there. */
function read({ model, results }: Evidence): Expected[] {
  return results.flatMap((result): Expected[] => {
    const { spot } = result.test.probe ?? {}
    const floor = spot && model.plan.floors[spot.floorId]
    if (result.test.kind !== 'air' || !spot || !floor || !result.observation) return []
    const all = bands.flatMap((band) => {
      const walls = wallsOf(model, floor.id, band)
      return radiosOn(model, floor, band).map((r) => ({
        deviceId: r.deviceId,
        dbm: levelAt(r.sender, spot, walls, { coefficient: floor.coefficient }).dbm,
      }))
    })
    const best = all.sort((a, b) => b.dbm - a.dbm)[0]
    return best ? [{ result, ...best }] : []
  })
}

/** Slow at a good level: the air is shared with somebody who was to be elsewhere. */
const isSlow = ({ result }: Expected): boolean => {
  const { reading } = result.observation!
  const spot = result.test.probe!.spot!
  return reading != null && reading.dbm >= spot.leastDbm && reading.mbps < spot.leastMbps
}

function sharedAir(evidence: Evidence): Cause[] {
  const slow = read(evidence).filter((e) => e.result.verdict === 'contradicts' && isSlow(e))
  const points = [...new Set(slow.map((e) => e.result.observation!.reading!.deviceId))]
  return points.map((id): Cause => {
    const own = slow.filter((e) => e.result.observation!.reading!.deviceId === id)
    const { name } = evidence.model.device(id)
    return {
      kind: 'shared-air',
      text: `${name} is heard well and is slow: it shares its channel with somebody.`,
      evidence: own.slice(0, 4).map((e) => `${e.result.test.title}: ${e.result.observed}`),
      checks: [
        `Look in Adopt which channel ${name} and its neighbours really send on.`,
        'Scan the air there, and read the scan in: a neighbour may be new.',
        'Plan the channels anew.',
      ],
      explains: ids(own.map((e) => e.result)),
      subjects: [id],
    }
  })
}

/** Weaker than reckoned: all around an access point it is the access point, here and there a wall. */
function weakAir(evidence: Evidence): Cause[] {
  const { model, facts } = evidence
  const all = read(evidence)
  const weak = all.filter((e) => e.result.verdict === 'contradicts' && !isSlow(e))
  return [...new Set(weak.map((e) => e.deviceId))].flatMap((id): Cause[] => {
    // One that is not in service has a cause of its own.
    if (stateOf(facts, id) !== 'in-service' && stateOf(facts, id) !== 'drifted') return []
    const own = weak.filter((e) => e.deviceId === id)
    // Where somebody else is read who does just as well, it is not heard either.
    const isAll = all.every(
      (e) => e.deviceId !== id || own.includes(e) || e.result.observation!.reading?.deviceId !== id,
    )
    const { name } = model.device(id)
    const wall =
      'Look for what takes the signal on the way: metal, a lift, a coated pane, a new rack.'
    const hung = `Look whether ${name} hangs where the plan has it, and points where it should.`
    return [
      {
        kind: isAll ? 'point-elsewhere' : 'hidden-wall',
        text: isAll
          ? `${name} is heard weaker than reckoned wherever it was to be the best: it hangs elsewhere, or sends less.`
          : `${name} is heard weaker than reckoned in one direction: something stands there that nobody drew.`,
        evidence: own
          .slice(0, 4)
          .map(
            (e) => `${e.result.test.title}: ${e.result.observed}, reckoned ${e.dbm.toFixed(0)} dBm`,
          ),
        checks: [
          ...(isAll ? [hung, wall] : [wall, hung]),
          `Look in Adopt with which power ${name} sends, and at its antennas.`,
          'Take readings there on the plan, and let them bend the model.',
        ],
        explains: ids(own.map((e) => e.result)),
        subjects: [id],
      },
    ]
  })
}

/** Behind what cables, power and leases explain. */
export const wifiCauses: readonly CauseFinder[] = [
  { turn: 60, find: wrongKeys },
  { turn: 61, find: sharedAir },
  { turn: 62, find: weakAir },
]
