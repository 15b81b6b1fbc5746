import type { WirelessNetwork } from '../../plan'

/** Signs that part the fields are led in by a backslash. */
const escaped = (text: string): string => text.replace(/[\\;,:"]/g, '\\$&')

/** What a card says to a phone that looks at it: the `WIFI:` text that has become usual. */
export function joinText(
  { name, security, isHidden }: Pick<WirelessNetwork, 'name' | 'security' | 'isHidden'>,
  key: string | null,
): string {
  const kind = security === 'open' ? 'nopass' : security === 'wep' ? 'WEP' : 'WPA'
  return (
    `WIFI:T:${kind};S:${escaped(name)};` +
    `${key !== null && security !== 'open' ? `P:${escaped(key)};` : ''}${isHidden ? 'H:true;' : ''};`
  )
}
