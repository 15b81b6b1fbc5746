export const base64 = (octets: Uint8Array): string => Buffer.from(octets).toString('base64')
export const octets = (text: string): Uint8Array => new Uint8Array(Buffer.from(text, 'base64'))
