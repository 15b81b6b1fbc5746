/**
 * A switch without settings: learns where each hardware address is and passes frames on, with their
 * tags where it can.
 */
import type { Behaviour } from './behaviour'
import { BROADCAST, type Mac } from '../frames/frame'
import { Box, type Surroundings } from './box'

export class PlainSwitch extends Box {
  private readonly table = new Map<Mac, string>()

  constructor(around: Surroundings, id: string, portNames: readonly string[], passesTags: boolean) {
    super(around, id, portNames)
    for (const [name, socket] of this.sockets)
      socket.onFrame = (frame) => {
        if (frame.tag !== null && !passesTags) return
        this.table.set(frame.from, name)
        const known = frame.to === BROADCAST ? undefined : this.table.get(frame.to)
        for (const [other, out] of this.sockets)
          if (other !== name && (known === undefined || known === other)) out.send(frame)
      }
  }

  override setPower(on: boolean): void {
    if (!on) this.table.clear()
    super.setPower(on)
  }
}

/** Switches without settings, and whatever a cable or a radio goes through on its way. */
export const passesOn: Behaviour = {
  is: ({ kind }) =>
    ['switch', 'bridge-radio', 'range-extender', 'injector', 'modem'].includes(kind),
  make: ({ around, device, profile: { kind, vlan }, portNames }) =>
    new PlainSwitch(around, device.id, portNames, kind !== 'switch' || vlan === 'transparent'),
}
