/**
 * C-40: power that reaches far beyond what is to be served; and a segment of the site that can be
 * joined from outside its boundary.
 */
import { editCall, settingsOf, type Segment } from '../../plan'
import { percentOf } from '../../radio/decibels'
import { defineRule, type Fix } from '../../findings/rule'
import { listWords } from '../../words'
import { beyondBoundary, type Beyond } from '../coverage/beyond'
import { FAR_M, GOOD_DBM, LEAST_POWER_DBM } from '../power/limits'

/** As loud as that, somebody outside joins (common practice). */
const JOINS_DBM = -75
/** Just outside, m. */
const NEAR_M = 5
export default defineRule({
  id: 'wifi/reaches-beyond',
  severity: 'caution',
  catches: ['C-40'],
  title: 'A radio reaches far beyond the boundary',
  sheet: 'wifi',
  reads: [
    'site',
    'devices',
    'profiles',
    'floors',
    'walls',
    'areas',
    'segments',
    'wirelessNetworks',
  ],
  *check(model) {
    const networks = Object.values(model.plan.wirelessNetworks)
    const sentBy = (b: Beyond) =>
      networks.filter(
        (w) => w.accessPointIds.includes(b.radio.deviceId) && w.bands.includes(b.band),
      )
    const far = beyondBoundary(model, FAR_M).filter(
      (b) => b.dbm >= GOOD_DBM && sentBy(b).length > 0,
    )
    for (const id of new Set(far.map((b) => b.radio.deviceId))) {
      const device = model.device(id)
      const profile = model.profileOf(id)
      const of = far.filter((b) => b.radio.deviceId === id).sort((a, b) => b.dbm - a.dbm)
      const [loudest] = of
      const powers = new Map(
        of.map((b) => {
          const now = b.radio.sender.eirpDbm - profile.air[b.radio.radio]!.gainDbi
          return [b.radio.radio, Math.floor(now - (b.dbm - GOOD_DBM) - 0.1)]
        }),
      )
      const fixes: Fix[] = [...powers.values()].every((p) => p >= LEAST_POWER_DBM)
        ? [
            {
              label: `Set ${device.name} to ${listWords(
                of.map((b) => `${powers.get(b.radio.radio)!} dBm in ${b.band} GHz`),
              )}`,
              edits: [
                editCall('changeDevice', {
                  id,
                  changes: {
                    radios: settingsOf(device, profile).map((s, n) =>
                      powers.has(n) ? { ...s, powerDbm: powers.get(n)! } : s,
                    ),
                  },
                }),
              ],
            },
          ]
        : []
      yield {
        key: `serves:${id}`,
        subjects: [id],
        text:
          `${device.name} is heard with ${Math.round(loudest!.dbm)} dBm (${Math.round(percentOf(loudest!.dbm))} %) ` +
          `in ${loudest!.band} GHz ${FAR_M} m outside the boundary of ${loudest!.floor.name}.`,
        why:
          'It serves whoever stands there, disturbs them and is disturbed. Look at the drawing when ' +
          'it is turned down: those inside need it too.',
        numbers: of.map((b) => ({
          label: `${b.band} GHz`,
          value: `${b.dbm.toFixed(1)} dBm`,
          how: `at ${b.at.x.toFixed(0)}, ${b.at.y.toFixed(0)} m; a good level is ${GOOD_DBM} dBm`,
        })),
        fixes,
      }
    }
    yield* trusted(beyondBoundary(model, NEAR_M).filter((b) => b.dbm >= JOINS_DBM))

    // Segments of the site itself, not of guests: who is outside may try their keys.
    function* trusted(near: readonly Beyond[]) {
      const found = new Map<string, { segment: Segment; by: Beyond[] }>()
      for (const b of near)
        for (const w of sentBy(b)) {
          const segment = model.segment(w.segmentId)
          if (segment.purpose === 'guests') continue
          found.set(w.id, { segment, by: [...(found.get(w.id)?.by ?? []), b] })
        }
      for (const [id, { segment, by }] of found) {
        const loudest = [...by].sort((a, b) => b.dbm - a.dbm)[0]!
        const names = [...new Set(by.map((b) => model.device(b.radio.deviceId).name))]
        yield {
          key: `trusted:${id}`,
          title: 'A segment of the site can be joined from outside',
          subjects: [id, segment.id, ...new Set(by.map((b) => b.radio.deviceId))],
          text:
            `'${model.plan.wirelessNetworks[id]!.name}', which leads into ${segment.name}, is heard beyond ` +
            `the boundary from ${listWords(names)}, with ${Math.round(loudest.dbm)} dBm at the best.`,
          why: 'Its key is all that stands between the street and the segment: a long one, or less power.',
          fixes: [],
        }
      }
    }
  },
})
