/** C-56, C-57, C-60: files that lie on two devices or went by mail, keys that are not a pair's. */
import { editCall, freePeerAddresses, inPlan, peersOf } from '../../plan'
import { defineRule } from '../../findings/rule'
import { listWords } from '../../words'

export default defineRule({
  id: 'tunnels/profiles',
  severity: 'caution',
  catches: ['C-56', 'C-57'],
  title: 'One file a device, and handed over safely',
  sheet: 'tunnels',
  reads: ['tunnels', 'peers'],
  *check({ plan }) {
    const holders = new Map<string, string>()
    for (const t of Object.values(plan.tunnels))
      for (const p of peersOf(plan, t.id)) {
        if (p.usedOn.length > 1) {
          const [stays, ...others] = p.usedOn
          const free = freePeerAddresses(plan, t.id, others.length)
          yield {
            key: `shared:${p.id}`,
            catches: ['C-56'],
            subjects: [p.id, t.id],
            text: `The file of ${p.name} is on ${p.usedOn.length} devices: ${listWords(p.usedOn)}.`,
            why: 'What answers goes to the one that spoke last: both lose packets, and neither can be shut out alone.',
            fixes: [
              {
                label: `A file each for ${listWords(p.usedOn)}`,
                edits: [
                  editCall('changePeer', { id: p.id, changes: { usedOn: [stays!] } }),
                  ...others.map((name, n) =>
                    editCall('addPeer', {
                      id: `${p.id}-${n + 2}`.slice(-64).replace(/^[^a-z]+/, ''),
                      name: `${p.name}: ${name}`.slice(0, 80),
                      tunnelId: t.id,
                      device: p.device,
                      address: free[n] ?? null,
                      isFull: p.isFull,
                      usedOn: [name],
                    }),
                  ),
                ],
              },
            ],
          }
        }
        const other = p.publicKey ? holders.get(p.publicKey) : undefined
        if (p.publicKey && other !== undefined)
          yield {
            key: `key:${p.id}`,
            severity: 'blocker',
            catches: ['C-56'],
            subjects: [p.id, other],
            text: `${p.name} and ${inPlan(plan.peers, other).name} have one key.`,
            why: 'To the other end they are the same: the second takes the addresses of the first.',
            fixes: [
              {
                label: `Take the key of ${p.name} away, for a new one`,
                edits: [
                  editCall('changePeer', {
                    id: p.id,
                    changes: { publicKey: null, privateKeyRef: '', carriedBy: null },
                  }),
                ],
              },
            ],
          }
        else if (p.publicKey) holders.set(p.publicKey, p.id)
        if (p.publicKey && (p.carriedBy === 'mail' || p.carriedBy === 'message'))
          yield {
            key: `carried:${p.id}`,
            catches: ['C-57'],
            subjects: [p.id, t.id],
            text: `The file of ${p.name} went by ${p.carriedBy}, with its private key in it.`,
            why:
              'It lies in mailboxes and backups of others for good. Make a new key, and ' +
              'hand it over by a link that opens once, by a picture on the screen, or have it made on the device.',
            fixes: [
              {
                label: `Shut the old key out`,
                edits: [
                  editCall('changePeer', {
                    id: p.id,
                    changes: { publicKey: null, privateKeyRef: '', carriedBy: null },
                  }),
                ],
              },
            ],
          }
      }
  },
})
