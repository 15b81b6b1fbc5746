/**
 * C-92: what the plan relies on and a device cannot do: refuse strangers' leases, send its log, be
 * watched.
 */
import type { Ability, Device } from '../../plan'
import { portRolesOf, type SiteModel } from '../../topology'
import { defineRule } from '../../findings/rule'

const list = (devices: readonly Device[]): string =>
  `${devices
    .slice(0, 4)
    .map((d) => d.name)
    .join(', ')}${devices.length > 4 ? ` and ${devices.length - 4} more` : ''}`

/**
 * Switches with sockets for hosts whose segment hands out leases, and that let anybody answer
 * there.
 */
function unguarded(model: SiteModel): Device[] {
  const lacking = model.devices.filter((d) => {
    const { kind, vlan, adoptable, abilities } = model.profileOf(d.id)
    return (
      kind === 'switch' && vlan === 'managed' && adoptable && !abilities.includes('lease-guard')
    )
  })
  if (lacking.length === 0) return []
  const roles = portRolesOf(model)
  const isAsked = (segmentId: string | null): boolean =>
    segmentId !== null && model.segment(segmentId).dhcp.mode !== 'off'
  return lacking.filter((d) =>
    model.portsOf(d.id).some((p) => {
      const role = roles.get(p.id)
      return (
        role?.mode === 'access' && role.isEdge && !role.isTrusted && isAsked(p.untaggedSegmentId)
      )
    }),
  )
}

export default defineRule({
  id: 'survey/device-abilities',
  severity: 'note',
  catches: ['C-92'],
  title: 'What a device cannot do and the plan relies on',
  sheet: 'survey',
  reads: ['site', 'devices', 'profiles', 'ports', 'links', 'segments'],
  *check(model) {
    const open = unguarded(model)
    if (open.length > 0)
      yield {
        key: 'stray lease servers',
        subjects: open.slice(0, 8).map((d) => d.id),
        severity: 'caution',
        text:
          `${list(open)} ${open.length === 1 ? 'does' : 'do'} not keep stray lease servers ` +
          `out: a box from the shop in one of ${open.length === 1 ? 'its' : 'their'} sockets ` +
          'answers faster than the gateway.',
        why:
          'Hosts then land in a network that leads nowhere, some today and others tomorrow. ' +
          'Take a switch that drops what servers of leases say at sockets for hosts, or say in ' +
          'its profile that it can.',
        fixes: [],
      }
    const { logTo, monitoring } = model.plan.site.management
    const without = (ability: Ability): Device[] =>
      model.devices.filter(
        (d) =>
          model.profileOf(d.id).adoptable && !model.profileOf(d.id).abilities.includes(ability),
      )
    for (const [wanted, ability, what] of [
      [logTo, 'remote-log', `send what they log to ${logTo}`],
      [monitoring, 'monitoring', 'be watched with SNMPv3'],
    ] as const) {
      const devices = wanted === null ? [] : without(ability)
      if (devices.length > 0)
        yield {
          key: what,
          subjects: devices.slice(0, 8).map((d) => d.id),
          text: `${list(devices)} cannot ${what}.`,
          why: 'What happens to them is seen only on their own page, and gone after their next start.',
          fixes: [],
        }
    }
  },
})
