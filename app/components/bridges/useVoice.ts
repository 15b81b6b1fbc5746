/** Tone and speech of the aim helper, each switched on by itself. */

/** What is said again and again is said no more often, ms. */
const APART_MS = 1500
const canSpeak = (): boolean => 'speechSynthesis' in window

export function useVoice() {
  const isLoud = ref(false)
  const isSpoken = ref(false)
  let sound: AudioContext | undefined
  let tone: OscillatorNode | undefined
  let lastSaid = 0
  function hush(): void {
    tone?.stop()
    tone = undefined
  }
  watch(isLoud, (on) => {
    if (!on) hush()
  })
  onBeforeUnmount(() => {
    hush()
    void sound?.close()
    if (canSpeak()) speechSynthesis.cancel()
  })
  return {
    isLoud,
    isSpoken,
    /** Higher the nearer to what is expected: an octave for 12 dB. */
    sing(overExpectedDb: number): void {
      if (!isLoud.value) return
      sound ??= new AudioContext()
      if (!tone) {
        tone = sound.createOscillator()
        const gain = sound.createGain()
        gain.gain.value = 0.08
        tone.connect(gain).connect(sound.destination)
        tone.start()
      }
      tone.frequency.setTargetAtTime(880 * 2 ** (overExpectedDb / 12), sound.currentTime, 0.03)
    },
    speak(text: string, isUrgent = false): void {
      if (!isSpoken.value || !canSpeak()) return
      if (!isUrgent && Date.now() - lastSaid < APART_MS) return
      lastSaid = Date.now()
      speechSynthesis.cancel()
      speechSynthesis.speak(new SpeechSynthesisUtterance(text))
    },
  }
}
