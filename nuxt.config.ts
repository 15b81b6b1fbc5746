export default defineNuxtConfig({ ssr: false, compatibilityDate: '2026-01-01', telemetry: false })
