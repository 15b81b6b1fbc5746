/** Hands a text to the browser as a file. */
export const saveAs = (name: string, type: string, text: string): void =>
  give(name, new Blob([text], { type: `${type};charset=utf-8` }))
/** The same for what is not text. */
export const saveOctetsAs = (name: string, type: string, octets: Uint8Array): void =>
  give(name, new Blob([octets as BlobPart], { type }))

function give(name: string, blob: Blob): void {
  const url = URL.createObjectURL(blob)
  const a = document.createElement('a')
  a.href = url
  a.download = name
  a.click()
  URL.revokeObjectURL(url)
}
