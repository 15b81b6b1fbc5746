/** C-36: access points that hear each other on the same frequencies, and what planning mends of it. */
import { editCall, type SitePlan } from '../../plan'
import { bands } from '../../radio/bands'
import { defineRule } from '../../findings/rule'
import { countOf, listWords } from '../../words'
import { hearingOf, isShared, type Hearing, type HearingPair } from '../channels/hearing'
import { planChannels, settingsWith } from '../channels/plan'

/** So many pairs are named. */
const NAMED = 3
/** Planned anew it has to be better by so much, of what it costs now. */
const WORTH = 0.05
/** A quick search: the sheet looks longer. */
const STEPS = 5000

export default defineRule({
  id: 'wifi/shared-channels',
  severity: 'caution',
  catches: ['C-36'],
  title: 'Access points that hear each other share a channel',
  sheet: 'wifi',
  reads: ['site', 'devices', 'profiles', 'floors', 'walls', 'scans', 'wirelessNetworks'],
  *check(model) {
    if (model.plan.site.wireless.channels === 'each') return
    for (const band of bands) {
      const hearing = hearingOf(model, band)
      const shared = hearing.pairs.filter(({ a, b }) =>
        isShared(band, hearing.radios[a]!, hearing.radios[b]!),
      )
      if (shared.length === 0) continue
      const planned = planChannels(model, band, null, undefined, STEPS)
      const isWorth = planned.cost < planned.costNow * (1 - WORTH) - 1e-6
      const changed = [
        ...new Set(planned.radios.filter((r) => r.from !== r.to).map((r) => r.deviceId)),
      ]
      const numbers = [
        {
          label: 'pairs that share',
          value: isWorth
            ? `${shared.length}, planned anew ${planned.shared}`
            : String(shared.length),
          how: `of ${hearing.pairs.length} that hear each other at -82 dBm or better`,
        },
      ]
      const subjects = [...new Set(shared.flatMap(({ a, b }) => [a, b]))].map(
        (n) => hearing.radios[n]!.deviceId,
      )
      if (isWorth && changed.length > 0)
        yield {
          key: `now:${band}`,
          subjects,
          text: `In ${band} GHz ${pairWords(model.plan, hearing, shared)}.`,
          why: 'They wait for each other: what one sends, the other cannot.',
          numbers,
          fixes: [
            {
              label: `Plan ${band} GHz anew: ${countOf(changed.length, 'access point')} change channel`,
              edits: changed.map((id) =>
                editCall('changeDevice', {
                  id,
                  changes: { radios: settingsWith(model, id, [planned]) },
                }),
              ),
            },
          ],
        }
      else
        yield {
          key: `rest:${band}`,
          severity: 'note',
          subjects,
          text:
            `In ${band} GHz ${pairWords(model.plan, hearing, shared)}; ` +
            (planned.isBest
              ? 'no other choice of channels of this width disturbs less.'
              : 'no better choice of channels of this width was found.'),
          why: 'Narrower channels, less power or fewer radios in this band would part them.',
          numbers,
          fixes: [],
        }
    }
  },
})

function pairWords(plan: SitePlan, { radios }: Hearing, shared: readonly HearingPair[]): string {
  const name = (n: number): string => plan.devices[radios[n]!.deviceId]!.name
  const worst = [...shared].sort((p, q) => q.dbm - p.dbm).slice(0, NAMED)
  const words = worst.map(({ a, b, dbm }) => {
    const [x, y] = [radios[a]!, radios[b]!]
    const on =
      x.channel === y.channel
        ? `on ${x.channel!}`
        : `on ${x.channel!} and ${y.channel!}, which overlap`
    return `${name(a)} and ${name(b)} ${on} (${Math.round(dbm)} dBm)`
  })
  const more = shared.length - worst.length
  return `${listWords(words)}${more > 0 ? ` and ${countOf(more, 'further pair')}` : ''} hear each other`
}
