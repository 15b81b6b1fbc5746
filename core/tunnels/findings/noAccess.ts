/** C-55: peers that reach the gateway and nothing behind it, or that get no answers. */
import { editCall, inPlan, own, peersOf, type SitePlan, type Tunnel } from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'
import { reachedFrom } from '../reach/reach'

/** Where people work: what a first intent would most likely mean. */
function letIn(plan: SitePlan, t: Tunnel): Fix[] {
  const segments = Object.values(plan.segments).sort((a, b) => a.vlanId - b.vlanId)
  const to =
    segments.find((s) => s.purpose === 'staff') ?? segments.find((s) => s.purpose !== 'management')
  return to
    ? [
        {
          label: `Let ${t.name} into ${to.name}`,
          edits: [
            editCall('stateIntent', {
              id: `int-${t.id}-${to.id}`.slice(0, 64).replace(/[-._]+$/, ''),
              from: t.id,
              to: to.id,
              services: 'any',
              action: 'allow',
              reason: `whoever comes in by ${t.name} works here`,
            }),
          ],
        },
      ]
    : []
}

export default defineRule({
  id: 'tunnels/no-access',
  severity: 'caution',
  catches: ['C-55'],
  title: 'Whoever comes in reaches nothing',
  sheet: 'tunnels',
  reads: [
    'tunnels',
    'peers',
    'intents',
    'services',
    'segments',
    'devices',
    'groups',
    'profiles',
    'site',
    'forwards',
    'uplinks',
    'wirelessNetworks',
  ],
  *check({ plan }) {
    if (Object.keys(plan.services).length === 0) return
    for (const t of Object.values(plan.tunnels)) {
      if (t.kind === 'provider' || !t.isActive) continue
      const peers = peersOf(plan, t.id)
      const shut = peers.filter((p) => reachedFrom(plan, p.id).length === 0)
      if (peers.length > 0 && shut.length === peers.length)
        yield {
          subjects: [t.id],
          text:
            `Nobody of ${t.name} reaches anything here: no intent lets them beyond ` +
            `${inPlan(plan.devices, t.hostDeviceId).name}.`,
          why: 'The tunnel comes up, the gateway answers, and the network behind it does not.',
          numbers: [{ label: 'peers', value: String(peers.length) }],
          fixes: letIn(plan, t),
        }
      else
        for (const p of shut)
          yield {
            key: p.id,
            severity: 'note',
            subjects: [p.id, t.id],
            text: `${p.name} reaches nothing here, while others of ${t.name} do.`,
            why: 'Say on Policy what it may reach, or take it out.',
          }
      // The way back: what answers is sent to who lies behind the tunnel only where that is known.
      if (t.kind === 'sites')
        for (const p of peers)
          if (p.networks.length === 0)
            yield {
              key: `back:${p.id}`,
              subjects: [p.id, t.id],
              text: `Nothing is known of what lies behind ${p.name}: no route leads back to it.`,
              why: 'Its gateway is reached, its hosts are not, and their questions find no way back.',
            }
    }
    for (const t of Object.values(plan.tunnels)) {
      const host = own(plan.devices, t.hostDeviceId)
      if (
        host &&
        !host.addressing.segmentId &&
        own(plan.profiles, host.profileId)?.kind !== 'gateway'
      )
        yield {
          key: `host:${t.id}`,
          subjects: [t.id, host.id],
          text: `${t.name} runs on ${host.name}, which is in no segment.`,
          why: 'Nothing gets from the tunnel into the site, or back.',
        }
    }
  },
})
