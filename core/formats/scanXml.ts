/** What the usual port scanners write as XML: hosts, each with its addresses and names. */
import { XMLParser } from 'fast-xml-parser'

export interface ScannedHost {
  readonly address: string
  readonly hardwareAddress: string | null
  readonly name: string | null
}
export type ScanXml =
  | { readonly ok: true; readonly hosts: readonly ScannedHost[] }
  | { readonly ok: false; readonly reason: string }

const asList = (x: unknown): Record<string, unknown>[] =>
  [x].flat().filter((y): y is Record<string, unknown> => typeof y === 'object' && y !== null)
const text = (x: unknown): string => (typeof x === 'string' ? x : '')

/** Hosts that answered. Nothing that defines names of its own is read. */
export function readScanXml(xml: string): ScanXml {
  if (/<!ENTITY|<!DOCTYPE[^>]*\[/i.test(xml))
    return { ok: false, reason: 'it defines names of its own (DOCTYPE), which is not read' }
  let document: unknown
  try {
    document = new XMLParser({
      processEntities: false,
      parseTagValue: false,
      parseAttributeValue: false,
      ignoreAttributes: false,
      attributeNamePrefix: '',
    }).parse(xml, true)
  } catch (error) {
    return {
      ok: false,
      reason: `it is not well-formed: ${error instanceof Error ? error.message : ''}`,
    }
  }
  const [root] = asList(
    Object.entries((document ?? {}) as object).flatMap(([key, value]: [string, unknown]) =>
      key.startsWith('?') ? [] : [value],
    ),
  )
  const hosts = asList(root?.host).flatMap((h): ScannedHost[] => {
    if (text(asList(h.status)[0]?.state) === 'down') return []
    const addresses = asList(h.address)
    const of = (...kinds: string[]): string | null =>
      text(addresses.find((a) => kinds.includes(text(a.addrtype)))?.addr) || null
    const address = of('ipv4', 'ipv6')
    const [names] = asList(h.hostnames)
    return address
      ? [
          {
            address,
            hardwareAddress: of('mac'),
            name: text(asList(names?.hostname)[0]?.name) || null,
          },
        ]
      : []
  })
  return root?.host === undefined && hosts.length === 0
    ? { ok: false, reason: "no 'host' is in it: is it what a port scanner writes as XML?" }
    : { ok: true, hosts }
}
