/** C-81: equipment in the LAN that hands out leases of its own while it is as from its box. */
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'addressing/second-lease-server',
  severity: 'caution',
  catches: ['C-81'],
  title: 'A second lease server in the LAN',
  sheet: 'addresses',
  reads: ['devices', 'profiles', 'ports', 'links'],
  *check(model) {
    for (const d of model.devices) {
      const profile = model.profileOf(d.id)
      // A radio that routes hands out leases, whatever it comes with.
      const routes = d.mode === 'router'
      if ((profile.factory.dhcp !== 'server' && !routes) || d.id === model.gateway?.id) continue
      const inLan = model
        .portsOf(d.id)
        .map((p) => model.peerOf(p.id))
        .find((peer) => peer !== undefined && model.profilePortOf(peer.id).role !== 'wan')
      if (!inLan) continue
      yield {
        subjects: [d.id, inLan.id],
        text:
          `${d.name} hands out leases of its ` +
          `own${profile.factory.address && !routes ? ` around ${profile.factory.address.split('/')[0]}` : ''} ` +
          `${routes ? 'as it routes' : 'as it comes from the factory'}, and is cabled to ${model.portName(inLan.id)}.`,
        why:
          'Whoever asks hears the nearer answer: hosts land in a network that leads nowhere. ' +
          'Set it up alone, switch its server off, and cable it then.',
        numbers: profile.factory.address
          ? [{ label: 'its own subnet', value: profile.factory.address }]
          : [],
        fixes: [],
      }
    }
  },
})
