/**
 * Large sheets come into being some pieces at a time, so that none of them keeps the screen
 * waiting: whoever has more to show asks for a turn.
 */
type Turn = () => void

/** Of the 16 ms of a frame, what is left beside style, layout and paint. */
const SPARE_MS = 4

const waiting: Turn[] = []
const running = ref(false)

/**
 * Gives turns for as long as a frame can spare, one at least; what a turn brings is on the page
 * before the next is given. A turn that fails is its own matter.
 */
async function giveTurns(): Promise<void> {
  const end = performance.now() + SPARE_MS
  try {
    do {
      waiting.shift()?.()
      await nextTick()
    } while (waiting.length > 0 && performance.now() < end)
  } finally {
    running.value = waiting.length > 0
    if (running.value) afterFrame(() => void giveTurns())
  }
}

/**
 * Once what is there was laid out and painted, in a task of its own: within the frame, turns,
 * layout and paint would be one task.
 */
function afterFrame(work: () => void): void {
  requestAnimationFrame(() => {
    const { port1, port2 } = new MessageChannel()
    port1.onmessage = () => {
      port1.close()
      work()
    }
    port2.postMessage(null)
  })
}

/** Asks for a turn; gives what takes it back. */
export function takeTurn(turn: Turn): () => void {
  waiting.push(turn)
  if (!running.value) {
    running.value = true
    afterFrame(() => void giveTurns())
  }
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
  window.addEventListener('beforeprint', () => {
    printing.value = true
    for (let turn = waiting.shift(); turn; turn = waiting.shift()) turn()
  })
  window.addEventListener('afterprint', () => {
    printing.value = false
  })
}
