/** What is wrong with a bridge, from what its units read. */
import { behind, ids, type Cause, type CauseFinder, type Evidence } from '../proof/cause'
import { meaningOf } from './aim/meaning'
import { lossGoesByItself } from './aim/byItself'
import { knownBridges } from './reckoned'

function readings({ model, results, wrong: all }: Evidence): Cause[] {
  return knownBridges(model).flatMap((r): Cause[] => {
    const own = results.filter(
      (x) => x.test.kind === 'bridge' && x.test.probe?.bridge?.bridgeId === r.bridge.id,
    )
    const wrong = own.filter((x) => x.verdict === 'contradicts')
    if (wrong.length === 0) return []
    const { facts, toA, toB } = r.budget
    // Nothing behind it is reached while it passes nothing.
    const isDown = wrong.every((x) => (x.observation?.reading?.mbps ?? 0) === 0)
    const explains = [
      ...new Set(ids([...wrong, ...(isDown ? behind(model, all, facts.b.device.id) : [])])),
    ]
    const subjects = [r.bridge.id, facts.a.device.id, facts.b.device.id]
    const evidence = wrong.map((x) => `${x.test.title}: ${x.observed}`)
    const read = wrong.find((x) => x.observation?.reading)
    if (!read?.observation?.reading)
      return [
        {
          kind: 'bridge-silent',
          text: `The ends of ${r.bridge.name} do not hear each other at all.`,
          evidence,
          checks: [
            `Channel: both on ${r.bridge.a.channel ?? 'the planned one'}; look with a scan on which they are.`,
            'Role: one is the main end, the other the far end.',
            'Power at both ends: their lamps, their injectors, which of two like sockets.',
            'The same key and width at both ends.',
          ],
          explains,
          subjects,
        },
      ]
    const end = read.test.probe!.bridge!.end
    const { dbm } = read.observation.reading
    const expected = (end === 'a' ? toA : toB).levelDbm
    const meaning = meaningOf(dbm, expected, facts[end].antenna, [
      facts.a.set.polarisation,
      facts.b.set.polarisation,
    ])
    if (meaning.meaning === 'as-expected' || meaning.meaning === 'louder')
      return [
        {
          kind: 'bridge-not-paired',
          text: `${r.bridge.name} is as loud as expected and passes too little: its ends are not set alike.`,
          evidence: [...evidence, `${expected.toFixed(1)} dBm are reckoned`],
          checks: [
            'Role: one is the main end, the other the far end.',
            'Width and key: the same at both ends.',
            'Distance setting: no less than the path asks for.',
          ],
          explains,
          subjects,
        },
      ]
    return [
      {
        kind: `bridge-${meaning.meaning}`,
        text: `${r.bridge.name}: ${meaning.text}`,
        evidence: [...evidence, `${expected.toFixed(1)} dBm are reckoned`],
        checks: [
          ...meaning.checks.map((c) => c.text),
          ...lossGoesByItself(r, -meaning.differenceDb),
        ],
        explains,
        subjects,
      },
    ]
  })
}

export const bridgeCauses: readonly CauseFinder[] = [{ turn: 18, find: readings }]
