/**
 * A sound and a notification when a wait is over. Browsers allow both only after somebody asked for
 * them, and only while the page is open, if in the background; what is over meanwhile is shown on the
 * sheet when it is opened again.
 */
import { useLocalStorage } from '@vueuse/core'
import type { Wait } from '@mast/core/bringup'

const TONE_HZ = 660
const TONE_S = 0.25

export function useWaitSignals(waits: Ref<readonly Wait[]>): {
  isOn: Ref<boolean>
  refused: Ref<string | null>
  turn: (on: boolean) => Promise<void>
} {
  const isOn = useLocalStorage('wait-signals', false)
  const refused = ref<string | null>(null)
  let sound: AudioContext | undefined
  const tone = (): void => {
    sound ??= new AudioContext()
    void sound.resume()
    for (const nth of [0, 1]) {
      const at = sound.currentTime + nth * 2 * TONE_S
      const oscillator = new OscillatorNode(sound, { frequency: TONE_HZ })
      oscillator.connect(sound.destination)
      oscillator.start(at)
      oscillator.stop(at + TONE_S)
    }
  }
  async function turn(on: boolean): Promise<void> {
    isOn.value = on
    refused.value = null
    if (!on) return
    tone()
    if (!('Notification' in window)) {
      refused.value = 'This browser shows no notifications; the sound stays.'
      return
    }
    if ((await Notification.requestPermission()) !== 'granted')
      refused.value = 'Notifications are not allowed for this page; the sound stays.'
  }
  async function show(wait: Wait): Promise<void> {
    if (!('Notification' in window) || Notification.permission !== 'granted') return
    const body = wait.next ? `Next: ${wait.next}` : ''
    const worker = await navigator.serviceWorker?.getRegistration().catch(() => undefined)
    if (worker) await worker.showNotification(`Over: ${wait.title}`, { body, tag: wait.stepId })
    else new Notification(`Over: ${wait.title}`, { body, tag: wait.stepId })
  }
  const running = new Set<string>()
  watch(
    waits,
    (list) => {
      const ended = list.filter((w) => w.leftSeconds === 0 && running.has(w.stepId))
      running.clear()
      for (const w of list) if (w.leftSeconds > 0) running.add(w.stepId)
      if (!isOn.value || ended.length === 0) return
      tone()
      for (const w of ended) void show(w)
    },
    { immediate: true },
  )
  return { isOn, refused, turn }
}
