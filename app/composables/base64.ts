/** Octets in base64 (RFC 4648, 4), in steps that a call can take. */
export function base64(octets: Uint8Array): string {
  let binary = ''
  for (let i = 0; i < octets.length; i += 0x8000)
    binary += String.fromCharCode(...octets.subarray(i, i + 0x8000))
  return btoa(binary)
}
