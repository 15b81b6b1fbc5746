/**
 * What a device lets itself send once it was told its country, dBm of EIRP (from memory, of Europe
 * and of the United States; of others it sends as it was set). Check with your regulator.
 */
import type { BandName } from './air'

const american = new Set(['US', 'CA'])
const european =
  'AT BE BG CH CY CZ DE DK EE ES FI FR GB GR HR HU IE IS IT LI LT LU LV MT NL NO PL PT RO SE SI SK'.split(
    ' ',
  )

export function mostEirpDbm(country: string, band: BandName, channel: number): number {
  if (american.has(country)) return band === '6' ? 30 : channel >= 52 && channel <= 144 ? 30 : 36
  if (!european.includes(country)) return Infinity
  if (band === '2.4') return 20
  if (band === '6') return 23
  return channel <= 64 ? 23 : channel <= 144 ? 30 : 14
}
