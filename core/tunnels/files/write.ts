/** Writes the file of one end of a tunnel. */
export interface WrittenPeer {
  readonly name: string
  readonly publicKey: string
  readonly sharedKey: string | null
  readonly allowed: readonly string[]
  readonly endpoint: { readonly host: string; readonly port: number } | null
  readonly keepaliveSeconds: number | null
}
export interface WrittenTunnel {
  readonly name: string
  /** Null where it is made on the device: the line is left out, and a comment says so. */
  readonly privateKey: string | null
  readonly addresses: readonly string[]
  readonly listenPort: number | null
  readonly mtu: number | null
  readonly nameServers: readonly string[]
  readonly peers: readonly WrittenPeer[]
}

/** What a person typed must not become a line of its own. */
const oneLine = (text: string): string => text.replace(/[\r\n\u2028\u2029]+/g, ' ').trim()
const hostText = (host: string): string => (host.includes(':') ? `[${host}]` : oneLine(host))

/**
 * @param isForTool as `wg setconf` takes it, without what `wg-quick` alone knows: addresses, names
 * and size
 */
export function writeTunnelFile(t: WrittenTunnel, isForTool = false): string {
  const out: string[] = [`# ${oneLine(t.name)}`, '[Interface]']
  if (t.privateKey) out.push(`PrivateKey = ${t.privateKey}`)
  else out.push('# PrivateKey = is made on this device, and stays there')
  if (t.listenPort !== null) out.push(`ListenPort = ${t.listenPort}`)
  if (!isForTool) {
    if (t.addresses.length > 0) out.push(`Address = ${t.addresses.join(', ')}`)
    if (t.nameServers.length > 0) out.push(`DNS = ${t.nameServers.join(', ')}`)
    if (t.mtu !== null) out.push(`MTU = ${t.mtu}`)
  }
  for (const p of t.peers) {
    out.push('', `# ${oneLine(p.name)}`, '[Peer]', `PublicKey = ${p.publicKey}`)
    if (p.sharedKey) out.push(`PresharedKey = ${p.sharedKey}`)
    if (p.allowed.length > 0) out.push(`AllowedIPs = ${p.allowed.join(', ')}`)
    if (p.endpoint) out.push(`Endpoint = ${hostText(p.endpoint.host)}:${p.endpoint.port}`)
    if (p.keepaliveSeconds) out.push(`PersistentKeepalive = ${p.keepaliveSeconds}`)
  }
  return `${out.join('\n')}\n`
}
