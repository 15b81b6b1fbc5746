/**
 * Tunnels of IKEv2 for the daemon of a Linux host, as swanctl.conf(5): a connection for each tunnel,
 * with what carries the traffic. Shared keys are written only where they are handed in.
 */
import { own, peersOf, tunnelInterface, type SitePlan } from '../../plan'
import type { IkeEnd } from './compare'

export interface IkeConnection {
  readonly id: string
  readonly name: string
  readonly end: IkeEnd
  /** Where the other end is called; null waits for it. */
  readonly remote: string | null
  readonly sharedKeyRef: string
  /** Of the interface that its traffic leaves and comes in by. */
  readonly interfaceId: number
}

export const ikeConnections = (plan: SitePlan): IkeConnection[] =>
  Object.values(plan.tunnels)
    .filter((t) => t.isActive && t.protocol === 'ikev2' && t.ike !== null)
    .sort((a, b) => (a.id < b.id ? -1 : 1))
    .map((t) => {
      const [peer] = peersOf(plan, t.id)
      return {
        id: t.id,
        name: t.name,
        end: t.ike!,
        remote: peer?.endpoint?.host ?? null,
        sharedKeyRef: peer?.sharedKeyRef ?? '',
        interfaceId: Number(tunnelInterface(plan, t.id).replace(/\D/g, '')) + 1,
      }
    })

/** Section names are letters, digits and hyphens. */
const section = (id: string): string => id.replace(/[^A-Za-z0-9-]/g, '-')
/** A value in quotes; what would end it is taken out of it. */
const quoted = (text: string): string => `"${text.replace(/[\\"\r\n]/g, ' ')}"`
const comment = (text: string): string => text.replace(/[\r\n]+/g, ' ')

/**
 * @param keys shared keys by their names in the vault
 * @param isByInterface whether each has an interface of its own, as the packet filter has it; else
 * the kernel decides by networks alone
 */
export function writeSwanctl(
  connections: readonly IkeConnection[],
  keys: Readonly<Record<string, string>> = {},
  isByInterface = true,
): string {
  const out: string[] = ['connections {']
  for (const { id, name, end, remote, interfaceId } of connections) {
    const s = section(id)
    out.push(
      `  # ${comment(name)}`,
      ...(isByInterface
        ? [`  # ip link add ike${interfaceId - 1} type xfrm if_id ${interfaceId}`]
        : []),
      `  ${s} {`,
      '    version = 2',
      ...(remote ? [`    remote_addrs = ${quoted(remote)}`] : []),
      `    proposals = ${end.proposal.replace(/\s/g, '')}`,
      `    rekey_time = ${end.lifetimeSeconds}s`,
      '    dpd_delay = 30s',
      '    local {',
      '      auth = psk',
      `      id = ${quoted(end.localId)}`,
      '    }',
      '    remote {',
      '      auth = psk',
      `      id = ${quoted(end.remoteId)}`,
      '    }',
      '    children {',
      `      ${s} {`,
      `        local_ts = ${end.localSelectors.join(', ') || 'dynamic'}`,
      `        remote_ts = ${end.remoteSelectors.join(', ') || 'dynamic'}`,
      `        esp_proposals = ${end.childProposal.replace(/\s/g, '')}`,
      `        rekey_time = ${end.childLifetimeSeconds}s`,
      `        start_action = ${remote ? 'start' : 'trap'}`,
      '        dpd_action = restart',
      '      }',
      '    }',
      '  }',
    )
  }
  out.push('}')
  const secrets = connections.flatMap(({ id, end, sharedKeyRef }) => {
    const key = sharedKeyRef ? own(keys, sharedKeyRef) : undefined
    return key
      ? [
          `  ike-${section(id)} {`,
          `    id-1 = ${quoted(end.localId)}`,
          `    id-2 = ${quoted(end.remoteId)}`,
          `    secret = 0x${hex(key)}`,
          '  }',
        ]
      : []
  })
  out.push(
    ...(secrets.length > 0
      ? ['secrets {', ...secrets, '}']
      : ['# The shared keys are in the vault: type them into a section secrets { } on the host.']),
  )
  return `${out.join('\n')}\n`
}

const hex = (text: string): string =>
  [...new TextEncoder().encode(text)].map((o) => o.toString(16).padStart(2, '0')).join('')
