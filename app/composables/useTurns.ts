/** Large sheets come into being some pieces a frame, so that none of them keeps the screen waiting: whoever has more to show asks for a turn. */
type Turn = () => void

/** Of the 16 ms of a frame, what is left beside style, layout and paint. */
const SPARE_MS = 4

const waiting: Turn[] = []
const running = ref(false)

/** Gives turns for as long as a frame can spare, one at least; what a turn brings is on the page before the next is given. A turn that fails is its own matter. */
async function frame(): Promise<void> {
  const end = performance.now() + SPARE_MS
  try {
    do {
      waiting.shift()?.()
      await nextTick()
    } while (waiting.length > 0 && performance.now() < end)
  } finally {
    running.value = waiting.length > 0
    if (running.value) requestAnimationFrame(frame)
  }
}

/** Asks for a turn; gives what takes it back. */
export function takeTurn(turn: Turn): () => void {
  waiting.push(turn)
  if (!running.value) { running.value = true; requestAnimationFrame(frame) }
  return () => {
    const at = waiting.indexOf(turn)
    if (at >= 0) waiting.splice(at, 1)
  }
}

/** Whether pieces are still to come. */
export const morePieces = computed(() => running.value)

/** While something is printed nothing is left for later. */
export const printing = ref(false)
if (import.meta.client) {
  window.addEventListener('beforeprint', () => { printing.value = true; for (let turn = waiting.shift(); turn; turn = waiting.shift()) turn() })
  window.addEventListener('afterprint', () => { printing.value = false })
}
