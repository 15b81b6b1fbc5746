/**
 * The DHCP options that the leases of a segment tell, in words and octet for octet; what exporters
 * and the sheet show are the same.
 */
import {
  addressList,
  bootstrapUris,
  classlessRoutes,
  domainSearch,
  maskOctets,
  OPTION,
  plainText,
  prefix,
  rebindSeconds,
  renewSeconds,
  seconds,
  vendorText,
  type EncodedOption,
} from '../addressing'
import { bootstrapUrl, controllerAddress, controllerUrl } from '../adoption'
import { nameServersOf } from '../naming'
import type { Segment } from '../plan'
import type { SiteModel } from '../topology'

/** Sub-option of option 43 under which devices look for the controller. */
const CONTROLLER_SUB_OPTION = 1

export interface LeaseFacts {
  readonly nameServers: readonly string[]
  readonly controllerUrl: string | null
  readonly controllerAddress: string | null
  readonly bootstrapUrl: string | null
  readonly domain: string | null
}

/** What the leases of a segment tell; the controller only in management, where devices wake up. */
export function leaseFactsOf(model: SiteModel, s: Segment): LeaseFacts {
  const tellsController =
    s.purpose === 'management' && model.plan.controller.discovery === 'dhcp-option'
  return {
    nameServers: nameServersOf(s),
    controllerUrl: tellsController ? controllerUrl(model) : null,
    controllerAddress: tellsController ? controllerAddress(model) : null,
    bootstrapUrl: s.purpose === 'management' ? bootstrapUrl(model) : null,
    domain: model.plan.site.domain,
  }
}

export function leaseOptionsOf(model: SiteModel, s: Segment): EncodedOption[] {
  const facts = leaseFactsOf(model, s)
  const { nameServers, controllerUrl: url, controllerAddress, domain } = facts
  const out: EncodedOption[] = []
  const add = (
    code: number,
    name: string,
    says: string,
    content: Uint8Array,
    source: string,
  ): void => void out.push({ code, name, says, content, source })
  if (s.subnet)
    add(
      OPTION.mask,
      'mask',
      `/${prefix(s.subnet).length}`,
      maskOctets(prefix(s.subnet).length),
      'RFC 2132 3.3',
    )
  if (s.gateway) add(OPTION.router, 'router', s.gateway, addressList([s.gateway]), 'RFC 2132 3.5')
  if (nameServers.length > 0)
    add(
      OPTION.nameServers,
      'name servers',
      nameServers.join(', '),
      addressList(nameServers),
      'RFC 2132 3.8',
    )
  if (domain) add(OPTION.domain, 'domain', domain, plainText(domain), 'RFC 2132 3.17')
  if (s.options.timeServers.length > 0)
    add(
      OPTION.timeServers,
      'time servers',
      s.options.timeServers.join(', '),
      addressList(s.options.timeServers),
      'RFC 2132 8.3',
    )
  if (url)
    add(
      OPTION.vendor,
      'controller',
      url,
      vendorText(CONTROLLER_SUB_OPTION, url),
      'RFC 2132 8.4, sub-option 1',
    )
  add(OPTION.lease, 'lease', `${s.leaseSeconds} s`, seconds(s.leaseSeconds), 'RFC 2132 9.2')
  add(
    OPTION.renew,
    'renew',
    `${renewSeconds(s.leaseSeconds)} s`,
    seconds(renewSeconds(s.leaseSeconds)),
    'RFC 2132 9.11, half of the lease',
  )
  add(
    OPTION.rebind,
    'rebind',
    `${rebindSeconds(s.leaseSeconds)} s`,
    seconds(rebindSeconds(s.leaseSeconds)),
    'RFC 2132 9.12, seven eighths',
  )
  if (domain) add(OPTION.search, 'search', domain, domainSearch([domain]), 'RFC 3397')
  // Who reads option 121 ignores option 3, so the default route has to stand in it too (RFC 3442).
  if (s.options.routes.length > 0) {
    const routes = [
      ...s.options.routes,
      ...(s.gateway ? [{ to: '0.0.0.0/0', via: s.gateway }] : []),
    ]
    add(
      OPTION.routes,
      'routes',
      routes.map((r) => `${r.to} via ${r.via}`).join(', '),
      classlessRoutes(routes),
      'RFC 3442',
    )
  }
  if (controllerAddress)
    add(
      OPTION.accessControllers,
      'controller address',
      controllerAddress,
      addressList([controllerAddress]),
      'RFC 5417',
    )
  if (facts.bootstrapUrl)
    add(
      OPTION.bootstrap,
      'bootstrap',
      facts.bootstrapUrl,
      bootstrapUris([facts.bootstrapUrl]),
      'RFC 8572 8.1',
    )
  return out
}

/** Devices that have a reservation in a segment. */
export const reservationsOf = (
  model: SiteModel,
  segmentId: string,
): { hardwareAddress: string; address: string; name: string }[] =>
  model
    .membersOf(segmentId)
    .flatMap((d) =>
      d.addressing.mode === 'reserved' && d.addressing.address && d.hardwareAddress
        ? [{ hardwareAddress: d.hardwareAddress, address: d.addressing.address, name: d.name }]
        : [],
    )
    .sort((a, b) => (a.hardwareAddress < b.hardwareAddress ? -1 : 1))
