/** What a radio for bridges can do, as it is typed: channels, widths, steps of modulation, antenna. */
import { bridgeUnitSchema, type BridgeUnit, type RateStep } from './kinds/bridgeUnit'

type Read<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly reason: string }
const no = (reason: string): { ok: false; reason: string } => ({ ok: false, reason })

/** `100 5500; 104 5520`: number and middle frequency, MHz. */
export const channelsInWords = (list: BridgeUnit['channels']): string =>
  list.map((c) => `${c.number} ${c.mhz}`).join('; ')
export function readChannels(text: string): Read<BridgeUnit['channels']> {
  const out: BridgeUnit['channels'] = []
  for (const piece of text.split(/[;\n]/).map((t) => t.trim())) {
    if (piece === '') continue
    const m = /^(\d{1,4})\s+([\d.]+)(?:\s*MHz)?$/i.exec(piece)
    if (!m) return no(`'${piece}' is no channel; expected its number and its middle: 100 5500`)
    out.push({ number: Number(m[1]), mhz: Number(m[2]) })
  }
  return { ok: true, value: out }
}

/** A line for each: `20, QPSK 1/2, 13, -79` are MHz, name, Mbit/s on the air, dBm that it needs. */
export const stepsInWords = (list: readonly RateStep[]): string =>
  list.map((s) => `${s.widthMhz}, ${s.name}, ${s.mbps}, ${s.leastDbm}`).join('\n')
export function readSteps(text: string): Read<RateStep[]> {
  const out: RateStep[] = []
  for (const [n, line] of text.split('\n').entries()) {
    if (line.trim() === '') continue
    const m = /^\s*([\d.]+)\s*[,;\t]\s*(.+?)\s*[,;\t]\s*([\d.]+)\s*[,;\t]\s*(-[\d.]+)\s*$/.exec(
      line,
    )
    if (!m)
      return no(
        `line ${n + 1}: expected width, name, Mbit/s and dBm, for example 20, QPSK 1/2, 13, -79`,
      )
    out.push({
      widthMhz: Number(m[1]),
      name: m[2]!,
      mbps: Number(m[3]),
      leastDbm: Number(m[4]),
    })
  }
  return { ok: true, value: out }
}

/** `25 dBi, 8 x 8 degrees, 30 dB behind, 25 dB across, 0.45 m`; the size only of a dish. */
export const antennaInWords = ({ antenna: a }: Pick<BridgeUnit, 'antenna'>): string =>
  `${a.gainDbi} dBi, ${a.widthDegrees} x ${a.heightDegrees} degrees, ${a.frontToBackDb} dB behind, ` +
  `${a.crossPolarDb} dB across${a.diameterM === null ? '' : `, ${a.diameterM} m`}`
export function readAntenna(
  text: string,
  shape: BridgeUnit['antenna']['shape'],
): Read<BridgeUnit['antenna']> {
  const m =
    /^([\d.]+)\s*dBi,\s*([\d.]+)\s*x\s*([\d.]+)\s*degrees,\s*([\d.]+)\s*dB behind,\s*([\d.]+)\s*dB across(?:,\s*([\d.]+)\s*m)?$/i.exec(
      text.trim(),
    )
  if (!m)
    return no('expected for example 25 dBi, 8 x 8 degrees, 30 dB behind, 25 dB across, 0.45 m')
  const [gainDbi, widthDegrees, heightDegrees, frontToBackDb, crossPolarDb] = m
    .slice(1, 6)
    .map(Number) as [number, number, number, number, number]
  return {
    ok: true,
    value: {
      ...{ shape, gainDbi, widthDegrees, heightDegrees, frontToBackDb, crossPolarDb },
      diameterM: m[6] === undefined ? null : Number(m[6]),
    },
  }
}

/** `192.168.6.10 + 0 main + 100 far + 1 a channel`. */
export const addressRuleInWords = ({ address: a }: Pick<BridgeUnit, 'address'>): string =>
  a ? `${a.base} + ${a.main} main + ${a.far} far + ${a.perChannel} a channel` : ''
export function readAddressRule(text: string): Read<BridgeUnit['address']> {
  if (text.trim() === '') return { ok: true, value: null }
  const m = /^([\d.]+)\s*\+\s*(\d+)\s*main\s*\+\s*(\d+)\s*far\s*\+\s*(\d+)\s*a channel$/i.exec(
    text.trim(),
  )
  const read = m && {
    base: m[1]!,
    main: Number(m[2]),
    far: Number(m[3]),
    perChannel: Number(m[4]),
  }
  return read && bridgeUnitSchema.shape.address.safeParse(read).success
    ? { ok: true, value: read }
    : no('expected for example 192.168.6.10 + 0 main + 100 far + 1 a channel')
}
