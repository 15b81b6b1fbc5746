/** Which tunnels survive a switch of the line, and how long each is silent. */
import type { SiteModel } from '../../topology'
import { drillExpected, turnsOf } from '../../uplinks'
import { followSeconds } from '../names/follow'
import type { ReckonedTunnel } from '../reckoned'

/** Who sends and hears nothing calls anew after so long (WireGuard, NDSS 2017, section 6), s. */
const SILENT_S = 15
/** For so long an end calls where it knew the other last, before it asks for the name anew, s. */
const CALLING_S = 90
/**
 * IKEv2: silence is noticed after so long, and the other taken for gone after so many more (usual
 * values of daemons, from memory), s.
 */
const ALIVE_S = 30
const GONE_S = 165
/** Between two calls, s. */
const CALL_S = 5

export interface OverSwitch {
  readonly lineId: string
  readonly nextId: string
  /** From the death of the line until it carries again, s; null where it stays silent. */
  readonly seconds: { readonly best: number; readonly worst: number } | null
  readonly why: string
}

/**
 * Where this end calls, the other follows it to its new address with the next packet. Where it is
 * called, callers go on to the old address until they give up, and find the new one where a name
 * leads to it and the other line can be called.
 */
export function overSwitches(model: SiteModel, r: ReckonedTunnel): OverSwitch[] {
  const { tunnel, peers } = r
  const calls = peers.length > 0 && peers.every((p) => p.peer.endpoint !== null)
  return turnsOf(model).map((turn): OverSwitch => {
    const base = { lineId: turn.line.id, nextId: turn.next.id }
    const { over } = drillExpected(model, turn, turn.watched.keepsSignal ? 'path' : 'cable')
    if (!over)
      return { ...base, seconds: null, why: `${turn.next.name} does not take over by itself` }
    if (calls && tunnel.protocol === 'ikev2')
      return {
        ...base,
        seconds: { best: over.best, worst: over.worst + ALIVE_S + GONE_S + CALL_S },
        why: `it calls anew once it takes the other end for gone, some ${ALIVE_S + GONE_S} s after the last it heard`,
      }
    if (calls) {
      const keep = Math.max(0, ...peers.map((p) => p.keepaliveHere)) || SILENT_S
      return {
        ...base,
        seconds: { best: over.best, worst: over.worst + Math.max(keep, SILENT_S) + CALL_S },
        why: 'it calls: the other end follows it with the next packet',
      }
    }
    const { addressKind, mode } = turn.next.handOff
    const isTranslated = addressKind === 'carrier-grade' || addressKind === 'private'
    if (isTranslated || (mode === 'cellular' && addressKind !== 'public'))
      return { ...base, seconds: null, why: `nobody can call it by ${turn.next.name}` }
    if (!tunnel.dynamicName)
      return { ...base, seconds: null, why: 'it is called by an address, or a name that stays' }
    const name = followSeconds(tunnel.dynamicName)
    return {
      ...base,
      seconds: {
        best: over.best,
        // The name is new, and whoever calls gives the old address up and asks for it again.
        worst: over.worst + Math.max(name.worst, SILENT_S + CALLING_S) + CALLING_S + CALL_S,
      },
      why: `callers find the name at its new address after ${name.worst} s at most, and call again`,
    }
  })
}
