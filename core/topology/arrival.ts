/** Where the frames of a segment arrive. */
import type { Form } from './form'

export interface Arrival {
  readonly deviceId: string
  /** Port that it came in by; null at the gateway, where it starts. */
  readonly inPortId: string | null
  /** Port of the previous device that it left by. */
  readonly outPortId: string | null
  readonly form: Form
  /**
   * The VLAN that it is in inside this device, or its wire form inside a device that does not know
   * VLANs.
   */
  readonly inside: Form
  readonly before: Arrival | null
}

export interface Carriage {
  readonly segmentId: string
  /**
   * Every place that frames of the segment reach, in the order of discovery; a device can be
   * reached in two forms.
   */
  readonly arrivals: readonly Arrival[]
  /** What each port carries of it. A port that is absent carries nothing. */
  readonly forms: ReadonlyMap<string, Form>
  at(deviceId: string): readonly Arrival[]
}
