/** Hosts join their networks on the air. */
import type { Day, DayPart } from '../bringup/day'

/** Hands on one host that joins a network on the air, s (common practice). */
const JOIN_AIR_S = 30

function join(day: Day): string[] {
  const { model } = day
  const air = day.hosts.filter((h) => h.wirelessNetworkId !== null)
  if (air.length === 0) return []
  const line = day.after('cut over')
  return [
    day.add({
      id: 'air.hosts-on',
      kind: 'hosts-on',
      isOutage: true,
      title: `Join ${air.length === 1 ? air[0]!.name : `${air.length} hosts`} to the networks on the air`,
      needs: line.length > 0 ? line : day.after('bench', 'adopt', 'lay'),
      workSeconds: JOIN_AIR_S * air.length,
      waitSeconds: Math.max(...air.map((h) => model.profileOf(h.id).waits.bootSeconds)),
      words: air.map((h) => ({ label: h.name, text: day.attachment(h) })),
      action: { kind: 'power', deviceIds: air.map((h) => h.id), on: true },
    }),
  ]
}

export const wifiDay: readonly DayPart[] = [{ phase: 'connect', steps: join }]
