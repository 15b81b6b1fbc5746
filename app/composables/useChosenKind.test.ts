import { expect, it, vi } from 'vitest'
import { computed, nextTick, ref, watch } from 'vue'

vi.stubGlobal('ref', ref)
vi.stubGlobal('computed', computed)
vi.stubGlobal('watch', watch)
const { useChosenKind } = await import('./useChosenKind')

it('a kind that waits for its value stays chosen until something is recorded', async () => {
  const stored = ref<'none' | 'known' | null>('none')
  const { kind, await: wait } = useChosenKind(() => stored.value)
  expect(kind.value).toBe('none')
  // The choice itself takes back what was recorded.
  wait('known')
  stored.value = null
  await nextTick()
  expect(kind.value).toBe('known')
  // Somebody else records something.
  stored.value = 'none'
  await nextTick()
  expect(kind.value).toBe('none')
  wait(null)
  stored.value = null
  await nextTick()
  expect(kind.value).toBeNull()
})
