/** C-23: tests that say nothing of the line, or of more than the line. */
import { parseAddress } from '../../addressing'
import { editCall, type LineWatch, type Uplink } from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'
import { usualWatch } from '../facts'
import { answersToGo, isOwnBox } from '../ownBox'
import { linesInUse } from '../failover/siteOutlook'

/** What the provider named lies beyond its own box, as far as anybody knows. */
function ownTargets(u: Uplink): Fix[] {
  const targets = u.handOff.nameServers.filter((a) => !isOwnBox(u, a))
  if (targets.length < 2) return []
  return [
    {
      label: `Ask the ${targets.length} name servers of ${u.name}`,
      edits: [
        editCall('changeUplink', {
          id: u.id,
          changes: {
            watch: {
              ...(u.watch ?? usualWatch),
              need: 'any',
              tests: targets.map((target) => ({ kind: 'ping', target, port: null })),
            },
          },
        }),
      ],
    },
  ]
}
/** Asks only what lies beyond it. */
const withoutOwn = (u: Uplink, watch: LineWatch): Fix => ({
  label: "Leave the provider's own box out",
  edits: [
    editCall('changeUplink', {
      id: u.id,
      changes: {
        watch: { ...watch, tests: watch.tests.filter((t) => !isOwnBox(u, t.target)), need: 'any' },
      },
    }),
  ],
})
const isName = (target: string): boolean => parseAddress(target) === undefined

export default defineRule({
  id: 'uplinks/line-tests',
  severity: 'caution',
  catches: ['C-23'],
  title: 'The tests of a line do not tell whether it is dead',
  sheet: 'uplinks',
  reads: ['uplinks'],
  *check(model) {
    const lines = linesInUse(model)
    // With one line there is nowhere to go.
    if (lines.length < 2) return
    for (const u of lines.slice(0, -1)) {
      const tests = u.watch?.tests ?? []
      const targets = new Set(tests.map((t) => t.target))
      const fixes = ownTargets(u)
      if (tests.length === 0) {
        if (u.keepsSignal)
          yield {
            key: `${u.id} nothing`,
            subjects: [u.id],
            title: 'Nothing tests the line',
            text: `Nothing asks whether ${u.name} leads anywhere; only the signal of its socket counts.`,
            why: 'A modem keeps the signal up while the line behind it is dead, and the other line never takes over.',
            fixes,
          }
        continue
      }
      if ([...targets].every((t) => isOwnBox(u, t)))
        yield {
          key: `${u.id} own`,
          subjects: [u.id],
          text: `${u.name} is tested by the provider's own box alone: ${[...targets].join(', ')}.`,
          why: 'It answers from next door while everything behind it is dead.',
          fixes,
        }
      else if (u.watch && answersToGo(u, u.watch) === 0)
        yield {
          key: `${u.id} own`,
          subjects: [u.id],
          text:
            `${u.name} is taken to work as long as the provider's own box answers: ` +
            `${[...targets].filter((t) => isOwnBox(u, t)).join(', ')}.`,
          why: 'It answers from next door while everything behind it is dead.',
          fixes: [withoutOwn(u, u.watch), ...fixes],
        }
      else if (targets.size === 1)
        yield {
          key: `${u.id} one`,
          subjects: [u.id],
          text: `${u.name} is tested by one target alone: ${[...targets].join('')}.`,
          why: 'When that one is down or busy, a line that works is left.',
          fixes,
        }
      else if ([...targets].every(isName))
        yield {
          key: `${u.id} names`,
          subjects: [u.id],
          text: `${u.name} is tested by names alone: ${[...targets].join(', ')}.`,
          why: 'When names are not found, and that is often all, a line that works is left.',
          fixes,
        }
    }
  },
})
