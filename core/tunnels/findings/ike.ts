/** IKEv2 whose ends do not fit each other, or propose what nobody should use any more. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'
import { compareIke, mirrored } from '../ike/compare'
import { readProposals } from '../ike/proposal'
import { usualIke } from '../ike/usual'

export default defineRule({
  id: 'tunnels/ike',
  severity: 'blocker',
  catches: [],
  title: 'Both ends of IKEv2',
  sheet: 'tunnels',
  reads: ['tunnels', 'peers', 'segments', 'devices', 'profiles', 'intents', 'services', 'groups'],
  *check({ plan }) {
    for (const t of Object.values(plan.tunnels)) {
      if (!t.isActive || t.protocol !== 'ikev2') continue
      const { ike, foreignIke } = t
      if (!ike) {
        yield {
          key: `unsaid:${t.id}`,
          severity: 'caution',
          subjects: [t.id],
          text: `What ${t.name} proposes to its other end is not known yet.`,
          why: 'Both ends have to say the same; what is not written down is guessed twice.',
          fixes: [
            {
              label: 'Propose what is usual',
              edits: [editCall('changeTunnel', { id: t.id, changes: { ike: usualIke(plan, t) } })],
            },
          ],
        }
        continue
      }
      const faults = (['proposal', 'childProposal'] as const).flatMap((field) => {
        const of = field === 'proposal' ? ('ike' as const) : ('child' as const)
        return readProposals(ike[field], of).flatMap((p) => [
          ...p.problems.map((text) => ({ field, text })),
          ...p.weak.map((w) => ({ field, text: `'${w}' should not be used any more (RFC 8247)` })),
        ])
      })
      const usual = usualIke(plan, t)
      if (faults.length > 0)
        yield {
          key: `proposal:${t.id}`,
          severity: 'caution',
          subjects: [t.id],
          text: `${t.name} proposes what is not whole or not safe: ${faults[0]!.text}.`,
          why: 'The other end refuses it, or it is broken by who listens.',
          fixes: foreignIke
            ? []
            : [
                {
                  label: `Propose ${usual.proposal} and ${usual.childProposal}`,
                  edits: [
                    editCall('changeTunnel', {
                      id: t.id,
                      changes: {
                        ike: {
                          ...ike,
                          proposal: usual.proposal,
                          childProposal: usual.childProposal,
                        },
                      },
                    }),
                  ],
                },
              ],
        }
      if (!foreignIke) continue
      const apart = compareIke(ike, foreignIke).filter((r) => !r.isFit)
      if (apart.length > 0)
        yield {
          key: `apart:${t.id}`,
          subjects: [t.id],
          text: `Both ends of ${t.name} differ: ${apart.map((r) => r.what.toLowerCase()).join(', ')}.`,
          why: `${apart[0]!.means[0]!.toUpperCase()}${apart[0]!.means.slice(1)}.`,
          numbers: apart.map((r) => ({ label: r.what, value: `${r.here} / ${r.there}` })),
          fixes: [
            {
              label: 'Set this end as the other one is',
              edits: [
                editCall('changeTunnel', { id: t.id, changes: { ike: mirrored(foreignIke) } }),
              ],
            },
            {
              label: 'Have the other end set as this one is',
              edits: [
                editCall('changeTunnel', { id: t.id, changes: { foreignIke: mirrored(ike) } }),
              ],
            },
          ],
        }
    }
  },
})
