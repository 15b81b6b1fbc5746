/**
 * Licences, registrations and accounts: what is needed by what the plan uses, what is there, what
 * is blocked meanwhile.
 */
import type { Device, Licence } from '../plan'
import type { SiteModel } from '../topology'

export interface LicenceLine {
  readonly device: Device
  readonly licence: Licence
  readonly held: boolean
  /** What of the plan needs it; empty where nothing does. */
  readonly neededBy: readonly string[]
}

/** Every licence of every device, those that block something first. */
export function licencesOf(model: SiteModel): LicenceLine[] {
  const lineAt = new Map(
    Object.values(model.plan.uplinks).flatMap((u) =>
      u.portId ? [[u.portId, u.name] as const] : [],
    ),
  )
  const lines = model.devices.flatMap((device) =>
    model.profileOf(device.id).licences.map((licence): LicenceLine => {
      const sockets = model
        .portsOf(device.id)
        .filter(
          (p) =>
            model.profilePortOf(p.id).licenceId === licence.id &&
            (lineAt.has(p.id) || model.linkAt(p.id)),
        )
      const isSocketLicence = model
        .profileOf(device.id)
        .ports.some((p) => p.licenceId === licence.id)
      const neededBy = isSocketLicence
        ? sockets.map((p) => lineAt.get(p.id) ?? model.portName(p.id))
        : licence.kind === 'account'
          ? model.plan.controller.hostDeviceId === device.id
            ? ['adoption']
            : []
          : model.profileOf(device.id).kind === 'modem'
            ? Object.values(model.plan.uplinks)
                .filter((u) => u.handOff.mode === 'cellular')
                .map((u) => u.name)
            : []
      return { device, licence, held: device.licencesHeld.includes(licence.id), neededBy }
    }),
  )
  const isBlocked = (l: LicenceLine): boolean => !l.held && l.neededBy.length > 0
  return lines.sort((a, b) => Number(isBlocked(b)) - Number(isBlocked(a)))
}
