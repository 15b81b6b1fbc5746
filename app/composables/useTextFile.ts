/** A text file that somebody picks, or why it cannot be read. */
import type { ShallowRef } from 'vue'
import { decodeText } from '@mast/core/formats'

export interface TextFile {
  readonly name: string
  readonly text: string
}

export function useTextFile(): {
  file: ShallowRef<TextFile | null>
  refused: Ref<string | undefined>
  pick: (chosen: File | File[] | null) => Promise<void>
} {
  const file = shallowRef<TextFile | null>(null)
  const refused = ref<string | undefined>()
  async function pick(chosen: File | File[] | null): Promise<void> {
    const picked = Array.isArray(chosen) ? chosen[0] : chosen
    file.value = null
    refused.value = undefined
    if (!picked) return
    const decoded = decodeText(new Uint8Array(await picked.arrayBuffer()))
    if ('problem' in decoded)
      refused.value = `${picked.name}, line ${decoded.problem.line}: ${decoded.problem.reason}`
    else file.value = { name: picked.name, text: decoded.text }
  }
  return { file, refused, pick }
}
