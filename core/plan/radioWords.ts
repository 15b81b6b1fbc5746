/** Radios of a profile as they are typed: `5: ax 2x2 23 dBm 4 dBi; 2.4 5: n 1x1 14 dBm 0 dBi`. */
import { bands, type Band } from '../radio/bands'
import { letterOf } from '../radio/rates'
import { radioSchema, type Radio } from './kinds/profile'

const generationOf = (text: string): number | undefined => {
  const found = Object.entries(letterOf).find(([, l]) => l === text.toLowerCase())
  return found && Number(found[0])
}

const radioWords = (r: Radio): string =>
  `${r.bands.join(' ')}: ${letterOf[r.generation]} ${r.streams}x${r.streams} ${r.powerDbm} dBm ` +
  `${r.gainDbi} dBi` +
  (r.beam ? ` ${r.beam.widthDegrees} degrees, ${r.beam.frontToBackDb} dB behind` : '')
export const radiosInWords = (list: readonly Radio[]): string => list.map(radioWords).join('; ')

const example = 'expected for example 5: ax 2x2 23 dBm 4 dBi; 2.4: n 2x2 20 dBm 3 dBi'
const shape =
  /^([\d. ]+):\s*(b|g|n|ac|ax|be)\s+(\d)x\d\s+(-?[\d.]+)\s*dBm\s+(-?[\d.]+)\s*dBi(?:\s+([\d.]+)\s*degrees,\s*([\d.]+)\s*dB behind)?$/i

export function readRadios(
  text: string,
):
  { readonly ok: true; readonly value: Radio[] } | { readonly ok: false; readonly reason: string } {
  const out: Radio[] = []
  for (const piece of text
    .split(/[;\n]/)
    .map((t) => t.trim())
    .filter(Boolean)) {
    const m = shape.exec(piece)
    const named = (m?.[1] ?? '').trim().split(/\s+/)
    if (!m || !named.every((b) => (bands as readonly string[]).includes(b)))
      return { ok: false, reason: `'${piece}' is no radio; ${example}` }
    const read = radioSchema.safeParse({
      bands: [...new Set(named)] as Band[],
      generation: generationOf(m[2]!),
      streams: Number(m[3]),
      powerDbm: Number(m[4]),
      gainDbi: Number(m[5]),
      beam: m[6] === undefined ? null : { widthDegrees: Number(m[6]), frontToBackDb: Number(m[7]) },
    })
    if (!read.success)
      return {
        ok: false,
        reason: `'${piece}': ${read.error.issues[0]?.message ?? 'out of bounds'}`,
      }
    out.push(read.data)
  }
  return out.length > 4
    ? { ok: false, reason: 'a device has four radios at the most' }
    : { ok: true, value: out }
}
