/**
 * C-60, C-85, C-53: more tunnels than the device holds, one that nobody uses, one for a device that
 * nothing tells apart.
 */
import { activeTunnels, editCall, hasKnownAddress, inPlan, own } from '../../plan'
import { giveKnownAddress } from '../../topology/freeAddress'
import { defineRule } from '../../findings/rule'
import { listWords } from '../../words'

export default defineRule({
  id: 'tunnels/providers',
  severity: 'caution',
  catches: ['C-60', 'C-85', 'C-53'],
  title: 'Tunnels to a provider',
  sheet: 'tunnels',
  reads: ['tunnels', 'devices', 'profiles', 'segments'],
  *check(model) {
    const { plan } = model
    const byHost = new Map<string, typeof active>()
    const active = activeTunnels(plan)
    for (const t of active) byHost.set(t.hostDeviceId, [...(byHost.get(t.hostDeviceId) ?? []), t])
    for (const [id, list] of byHost) {
      const most = model.profileOf(id).limits.tunnels
      const providers = list.filter((t) => t.kind === 'provider')
      if (most !== null && list.length > most)
        yield {
          key: `most:${id}`,
          severity: 'blocker',
          catches: ['C-60'],
          subjects: [id, ...list.map((t) => t.id)],
          text: `${inPlan(plan.devices, id).name} holds ${most} tunnels at once; ${list.length} are switched on.`,
          why: 'The last ones stay down, or push the first out.',
          numbers: [
            { label: 'holds', value: String(most) },
            { label: 'switched on', value: String(list.length) },
          ],
          fixes: providers.slice(-1).map((t) => ({
            label: `Switch ${t.name} off`,
            edits: [editCall('changeTunnel', { id: t.id, changes: { isActive: false } })],
          })),
        }
    }
    for (const t of active)
      if (t.kind === 'provider' && t.throughIds.length === 0)
        yield {
          key: `unused:${t.id}`,
          catches: ['C-85'],
          subjects: [t.id],
          text: `${t.name} is up, and nobody goes through it.`,
          why: 'It looks as if all were hidden, and everything leaves by the line as before.',
          fixes: [
            {
              label: `Switch ${t.name} off`,
              edits: [editCall('changeTunnel', { id: t.id, changes: { isActive: false } })],
            },
          ],
        }
    for (const t of active)
      for (const id of t.throughIds) {
        const device = own(plan.devices, id)
        if (!device || hasKnownAddress(device)) continue
        const give = giveKnownAddress(plan, device)
        yield {
          key: `untold:${t.id}:${id}`,
          severity: 'blocker',
          catches: ['C-53'],
          subjects: [id, t.id],
          text: `${device.name} is to go through ${t.name}, and has no address of its own.`,
          why: 'What goes through is told by its address: it would leave by the line as everybody does.',
          fixes: give
            ? [{ label: `Give ${device.name} an address of its own`, edits: [give] }]
            : [],
        }
      }
    for (const t of active) {
      if (t.kind !== 'provider') continue
      const around = t.throughIds.flatMap((id) => {
        const at = own(plan.segments, id) ? id : own(plan.devices, id)?.addressing.segmentId
        const segment = at ? own(plan.segments, at) : undefined
        return segment?.subnet6 ? [own(plan.devices, id)?.name ?? segment.name] : []
      })
      if (around.length > 0)
        yield {
          key: `around:${t.id}`,
          severity: 'note',
          subjects: [t.id],
          text:
            `${listWords(around)} ${around.length === 1 ? 'goes' : 'go'} through ` +
            `${t.name} over IPv4 alone: IPv6 goes around it.`,
          why: 'Pages that are on both families are asked over IPv6, and see the line of the site.',
        }
    }
  },
})
