/** Hands a text to the browser as a file. */
export const saveAs = (name: string, type: string, text: string): void =>
  give(name, new Blob([text], { type: `${type};charset=utf-8` }))
/** The same for what is not text. */
export const saveOctetsAs = (name: string, type: string, octets: Uint8Array): void =>
  give(name, new Blob([octets as BlobPart], { type }))

/** For how long a file that is handed over is kept for the browser to fetch it. */
const KEPT_MS = 40_000

function give(name: string, blob: Blob): void {
  const url = URL.createObjectURL(blob)
  const a = document.createElement('a')
  a.href = url
  a.download = name
  a.click()
  // The browser fetches it in its own time; taken back at once, there is nothing left to save.
  setTimeout(() => URL.revokeObjectURL(url), KEPT_MS)
}
