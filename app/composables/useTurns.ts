/** Large sheets come into being a piece a frame, so that none of them keeps the screen waiting: whoever has more to show asks for a turn. */
type Turn = () => void

const waiting: Turn[] = []
const left = ref(0)
let running = false

function next(): void {
  const turn = waiting.shift()
  left.value = waiting.length
  if (!turn) { running = false; return }
  turn()
  requestAnimationFrame(next)
}

/** Asks for a turn; gives what takes it back. */
export function takeTurn(turn: Turn): () => void {
  waiting.push(turn)
  left.value = waiting.length
  if (!running) { running = true; requestAnimationFrame(next) }
  return () => {
    const at = waiting.indexOf(turn)
    if (at >= 0) waiting.splice(at, 1)
    left.value = waiting.length
  }
}

/** Whether pieces are still to come. */
export const morePieces = computed(() => left.value > 0)

/** Everybody's turn at once, before something is printed. */
if (import.meta.client) window.addEventListener('beforeprint', () => { for (let turn = waiting.shift(); turn; turn = waiting.shift()) turn(); left.value = 0 })
