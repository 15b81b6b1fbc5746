/** Address files of every kind that is known, and what kind a file is. */
import { readAddressCsv } from './addressCsv'
import { readDnsmasq } from './dnsmasq'
import { readKea } from './kea'
import { readNetplan } from './netplan'
import type { AddressFile } from './segmentRows'
import { readZone } from './zoneFile'

export const addressFormats = ['address-csv', 'kea', 'dnsmasq', 'zone', 'netplan'] as const
export type AddressFormat = (typeof addressFormats)[number]

/** What a file is, from its name and its content. */
export function addressFormatOf(fileName: string, text: string): AddressFormat {
  if (/\.ya?ml$/i.test(fileName) || /^\s*network:/m.test(text)) return 'netplan'
  if (/"Dhcp4"/.test(text)) return 'kea'
  if (/^\s*dhcp-(range|host|option)=/m.test(text)) return 'dnsmasq'
  if (/\bIN\s+(SOA|A|AAAA|PTR)\b/.test(text) || /^\$(ORIGIN|TTL)/m.test(text)) return 'zone'
  return 'address-csv'
}

/**
 * @param fileName a zone is called by it where it does not say its own name; a netplan file by the
 * host that it is for
 */
export function readAddressFile(
  format: AddressFormat,
  fileName: string,
  text: string,
): AddressFile {
  const stem = fileName.replace(/^.*[\\/]/, '').replace(/\.[^.]*$/, '')
  switch (format) {
    case 'address-csv':
      return readAddressCsv(text)
    case 'kea':
      return readKea(text)
    case 'dnsmasq':
      return readDnsmasq(text)
    case 'zone':
      return zone(text, stem)
    case 'netplan':
      return netplan(text, stem)
  }
}

/** Names with an IPv4 address; a reverse zone says the same of them from the other side. */
function zone(text: string, stem: string): AddressFile {
  const { records, problems, leftOut } = readZone(text, stem)
  const hosts = records.flatMap((r) =>
    r.type === 'A' && r.data !== '127.0.0.1'
      ? [{ line: r.line, hardwareAddress: null, name: r.name, address: r.data, typed: null }]
      : [],
  )
  const reverse = records.find((r) => r.type === 'PTR')
  return {
    rows: [],
    hosts,
    problems,
    leftOut:
      hosts.length === 0 && reverse
        ? [
            ...leftOut,
            {
              line: reverse.line,
              column: 1,
              reason: 'a reverse zone; the forward zone says the same with names',
            },
          ]
        : leftOut,
  }
}

/**
 * One file is one host, known by the hardware address that it matches, else by the name of the
 * file.
 */
function netplan(text: string, stem: string): AddressFile {
  const { addresses, problems } = readNetplan(text)
  const hosts = addresses
    .filter((a) => !a.address.includes(':'))
    .map((a) => ({
      line: a.line,
      hardwareAddress: a.hardwareAddress,
      name: stem,
      address: a.address,
      typed: { gateway: a.gateway },
    }))
  return { rows: [], hosts, problems, leftOut: [] }
}
