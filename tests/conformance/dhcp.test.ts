/**
 * DHCP options octet for octet against the examples of their standards, and leases against Little,
 * Erlang and a simulation.
 */
import { expect, it } from 'vitest'
import {
  bootstrapUris,
  classlessRoutes,
  destination,
  domainSearch,
  erlangB,
  exhaustedAt,
  heldSeconds,
  hexOf,
  leaseThatFits,
  littleMean,
  normalQuantile,
  occupancyAt,
  optionOctets,
  peakOccupancy,
  poissonQuantile,
  poolFor,
  readableSixtyFour,
  rebindSeconds,
  renewSeconds,
  reverseName,
  reverseZones,
  formatPrefix,
  prefix,
  sixtyFoursIn,
  vendorText,
  addressList,
  seconds,
  type Churn,
} from '@mast/core/addressing'
import { chanceOf } from '@mast/core/generator'
import { routesFromHex } from '@mast/core/formats'

it.each([
  // RFC 3442, table of destination descriptors
  ['0.0.0.0/0', '0'],
  ['10.0.0.0/8', '8.10'],
  ['10.0.0.0/24', '24.10.0.0'],
  ['10.17.0.0/16', '16.10.17'],
  ['10.27.129.0/24', '24.10.27.129'],
  ['10.229.0.128/25', '25.10.229.0.128'],
  ['10.198.122.47/32', '32.10.198.122.47'],
])('the descriptor of %s is %s (RFC 3442)', (to, expected) =>
  expect(destination(to).join('.')).toBe(expected),
)
it('option 121 is read back as it was written', () => {
  const routes = [
    { to: '10.17.0.0/16', via: '10.0.0.1' },
    { to: '0.0.0.0/0', via: '10.0.0.254' },
  ]
  expect(hexOf(optionOctets(121, classlessRoutes(routes)))).toBe(
    '790c' + '100a110a000001' + '000a0000fe',
  )
  expect(routesFromHex(hexOf(classlessRoutes(routes)))).toEqual(routes)
})
it('option 43 is made of sub-options: code, length, content (RFC 2132 8.4)', () =>
  expect(hexOf(optionOctets(43, vendorText(1, 'http://a')))).toBe(
    '2b0a' + '0108' + '687474703a2f2f61',
  ))
it('option 138 is a row of addresses (RFC 5417 section 3)', () =>
  expect(hexOf(optionOctets(138, addressList(['192.0.2.1', '192.0.2.2'])))).toBe(
    '8a08c0000201c0000202',
  ))
it('option 143 has every URI after its length in two octets (RFC 8572 8.1)', () =>
  expect(hexOf(bootstrapUris(['https://a', 'b']))).toBe('000968747470733a2f2f61' + '000162'))
it('option 119 has names as the DNS writes them (RFC 3397, RFC 1035 3.1)', () =>
  expect(hexOf(domainSearch(['eng.example.net']))).toBe('03656e67076578616d706c65036e657400'))
it('seconds are four octets in network order (RFC 2132 9.2)', () =>
  expect(hexOf(optionOctets(51, seconds(86_400)))).toBe('330400015180'))
it('content beyond 255 octets goes into another option of the same code (RFC 3396)', () => {
  const octets = optionOctets(121, new Uint8Array(300))
  expect([octets[0], octets[1], octets[257], octets[258], octets.length]).toEqual([
    121, 255, 121, 45, 304,
  ])
})
it('renews at 0.5 and rebinds at 0.875 of the lease (RFC 2131 4.4.5)', () =>
  expect([renewSeconds(86_400), rebindSeconds(86_400)]).toEqual([43_200, 75_600]))

it.each([
  ['10.1.2.3', '3.2.1.10.in-addr.arpa'],
  [
    '2001:db8::567:89ab',
    'b.a.9.8.7.6.5.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.8.b.d.0.1.0.0.2.ip6.arpa',
  ],
])('%s is %s in reverse (RFC 1035 3.5, RFC 3596 2.5)', (text, name) =>
  expect(reverseName(text)).toBe(name),
)
it.each([
  ['10.20.30.0/24', ['30.20.10.in-addr.arpa']],
  ['10.20.30.64/26', ['30.20.10.in-addr.arpa']],
  ['10.20.90.0/23', ['90.20.10.in-addr.arpa', '91.20.10.in-addr.arpa']],
  ['10.20.0.0/16', ['20.10.in-addr.arpa']],
  ['2001:db8:20:10::/64', ['0.1.0.0.0.2.0.0.8.b.d.0.1.0.0.2.ip6.arpa']],
])('%s lies in %j', (text, zones) => expect(reverseZones(prefix(text))).toEqual(zones))
it('a /56 holds 256 /64s, a /60 sixteen, a /64 one (RFC 6177)', () => {
  expect([56, 60, 64].map(sixtyFoursIn)).toEqual([256, 16, 1])
  expect(formatPrefix(readableSixtyFour(prefix('2001:db8:0:100::/56'), 20)!)).toBe(
    '2001:db8:0:120::/64',
  )
  expect(readableSixtyFour(prefix('2001:db8:0:100::/56'), 120)).toBeUndefined()
})

it('Erlang B: 10 erlang at 1 % blocking need 18 servers (published tables)', () => {
  expect(erlangB(10, 17)).toBeGreaterThan(0.01)
  expect(erlangB(10, 18)).toBeLessThan(0.01)
  expect(erlangB(10, 18)).toBeCloseTo(0.0071, 4)
})
it('quantiles of the Poisson and the normal distribution (tables)', () => {
  // Poisson of mean 10: P(N <= 20) = 0.99841, P(N <= 21) = 0.99930.
  expect(poissonQuantile(10, 0.999)).toBe(21)
  expect(poissonQuantile(1, 0.99)).toBe(4)
  expect(normalQuantile(0.999)).toBeCloseTo(3.0902, 2)
  // Both ways of reckoning meet where they take over from each other.
  expect(
    Math.abs(poissonQuantile(500, 0.999) - poissonQuantile(500.01, 0.999)),
  ).toBeLessThanOrEqual(1)
})
it("all day long the mean is Little's: arrivals times the time held", () => {
  const churn: Churn = { arrivalsPerHour: 30, heldMinutes: 90, fromHour: 0, toHour: 24 }
  for (const lease of [1800, 3600, 14_400])
    for (const hour of [0, 7.25, 23.9])
      expect(occupancyAt(churn, lease, hour)).toBeCloseTo(
        littleMean(30, heldSeconds(90 * 60, lease) / 3600),
        9,
      )
})

/**
 * Every client by itself: it comes, renews when half of its lease is over, goes without a word, and
 * its address is free when the lease is.
 */
function simulated(
  churn: Churn,
  leaseSeconds: number,
  seed: number,
  days: number,
): Map<number, number> {
  const chance = chanceOf(seed)
  const uniform = (): number => (chance.between(0, 999_999) + 0.5) / 1_000_000
  const leases: { from: number; to: number }[] = []
  for (let t = 0; ;) {
    t += (-Math.log(uniform()) / churn.arrivalsPerHour) * 3600
    if (t > days * 86_400) break
    const hour = (t / 3600) % 24
    const open =
      churn.toHour - churn.fromHour >= 24 ||
      (churn.fromHour < churn.toHour
        ? hour >= churn.fromHour && hour < churn.toHour
        : hour >= churn.fromHour || hour < churn.toHour)
    if (!open) continue
    let ends = t + leaseSeconds
    for (
      let renewal = t + leaseSeconds / 2;
      renewal <= t + churn.heldMinutes * 60;
      renewal += leaseSeconds / 2
    )
      ends = renewal + leaseSeconds
    leases.push({ from: t, to: ends })
  }
  // The mean number held at each full hour, over the days after the first three.
  const held = new Map<number, number>()
  for (let hour = 0; hour < 24; hour++) {
    let sum = 0
    for (let day = 3; day < days; day++) {
      const at = day * 86_400 + hour * 3600
      sum += leases.filter((l) => l.from <= at && at < l.to).length
    }
    held.set(hour, sum / (days - 3))
  }
  return held
}
it.each([
  [{ arrivalsPerHour: 40, heldMinutes: 180, fromHour: 9, toHour: 21 }, 3600],
  [{ arrivalsPerHour: 25, heldMinutes: 50, fromHour: 9, toHour: 17 }, 14_400],
  [{ arrivalsPerHour: 12, heldMinutes: 600, fromHour: 20, toHour: 4 }, 7200],
  [{ arrivalsPerHour: 30, heldMinutes: 30, fromHour: 0, toHour: 24 }, 43_200],
] satisfies [Churn, number][])(
  'the reckoning agrees with a simulation of every client: %j, lease %d s',
  (churn, lease) => {
    const held = simulated(churn, lease, 11, 120)
    for (const [hour, mean] of held) {
      const expected = occupancyAt(churn, lease, hour)
      // The mean of 117 days scatters by the root of the number over the root of the days; four of
      // that are never reached by chance in these few.
      expect(
        Math.abs(mean - expected),
        `${hour} h: ${mean} simulated, ${expected} reckoned`,
      ).toBeLessThanOrEqual(4 * Math.sqrt(Math.max(expected, 1) / 117) + 0.05)
    }
    expect(peakOccupancy(churn, lease)).toBeGreaterThanOrEqual(
      Math.max(...Array.from({ length: 97 }, (_, i) => occupancyAt(churn, lease, i / 4))) - 1e-9,
    )
  },
)
it('what is said to fit does, and the next longer lease does not', () => {
  const churn: Churn = { arrivalsPerHour: 80, heldMinutes: 180, fromHour: 9, toHour: 21 }
  const lease = leaseThatFits(churn, 501)!
  expect(lease).toBe(7200)
  expect(poolFor(churn, lease)).toBeLessThanOrEqual(501)
  expect(poolFor(churn, 14_400)).toBeGreaterThan(501)
  expect(exhaustedAt(churn, lease, 501)).toBeNull()
  expect(exhaustedAt(churn, 86_400, 501)).toBe(9)
})
