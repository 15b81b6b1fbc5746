/** Every format, in the order in which a file is recognised. */
import { addressCsv } from './addressCsv'
import { airScan } from './airScan'
import { dnsmasq } from './dnsmasq'
import { equipmentCsv } from './equipmentCsv'
import type { Format } from './format'
import { geoJson } from './geoJson'
import { kea } from './kea'
import { lineRoutes } from './lineRoutes'
import { materialsCsv } from './materialsCsv'
import { nameUpdates } from './nameUpdates'
import { netplan } from './netplan'
import { nftables } from './nftables'
import { outagesCsv } from './outagesCsv'
import { planJson } from './planJson'
import { runSheetMarkdown } from './runSheetMarkdown'
import { slipsMarkdown } from './slipsMarkdown'
import { swanctl } from './swanctl'
import { tunnelRoutes } from './tunnelRoutes'
import { walkCsv } from './walkCsv'
import { wireguard } from './wireguard'
import { zones } from './zoneFile'

export const formats: readonly Format[] = [
  planJson,
  equipmentCsv,
  materialsCsv,
  geoJson,
  netplan,
  kea,
  dnsmasq,
  zones,
  outagesCsv,
  airScan,
  walkCsv,
  // Any table may be one of addresses, so it comes after what is told by its words.
  addressCsv,
  nftables,
  lineRoutes,
  wireguard,
  tunnelRoutes,
  swanctl,
  nameUpdates,
  runSheetMarkdown,
  slipsMarkdown,
]

export const formatById = (id: string): Format | undefined => formats.find((f) => f.id === id)
export const readable = formats.filter((f) => f.read)
export const writable = formats.filter((f) => f.write)

/** What a file is, from its name and its content, among formats that can be read. */
export const formatOf = (
  fileName: string,
  text: string,
  among: readonly Format[] = readable,
): Format | undefined => among.find((f) => f.looksLike?.(fileName, text))
