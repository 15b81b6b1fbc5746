/**
 * What changes a name: an update of its zone (RFC 2136) as nsupdate(1) reads it, or a call of a web
 * address, which sees from where it is called.
 */
import type { Tunnel } from '../../plan'

/** Stands for the address of the line, which the caller puts in. */
export const ADDRESS_WORD = '$ADDRESS'

const host = (text: string): string => text.replace(/[^A-Za-z0-9.:-]/g, '')

/** Takes the old address away and puts the new one in, in one update, so that it is never without. */
export function nameUpdateText(
  name: string,
  { server, ttlSeconds }: NonNullable<Tunnel['dynamicName']>,
  address: string = ADDRESS_WORD,
): string {
  const full = `${host(name).replace(/\.$/, '')}.`
  return [
    `server ${host(server)}`,
    `update delete ${full} A`,
    `update add ${full} ${ttlSeconds} A ${address}`,
    'send',
    '',
  ].join('\n')
}
