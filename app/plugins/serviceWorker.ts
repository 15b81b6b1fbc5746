/**
 * Registers what lets the application open without a network. A browser that refuses loses that and
 * nothing else.
 */
export default defineNuxtPlugin(() => {
  if (import.meta.dev || !('serviceWorker' in navigator)) return
  navigator.serviceWorker
    .register('/sw.js')
    .catch((error: unknown) => console.warn('Without a network this will not open:', error))
})
