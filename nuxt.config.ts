import vuetify from 'vite-plugin-vuetify'

export default defineNuxtConfig({
  compatibilityDate: '2026-01-01',
  ssr: false,
  telemetry: false,
  devtools: { enabled: false },
  srcDir: 'app',
  serverDir: 'server',
  modules: ['@pinia/nuxt', '@vueuse/nuxt'],
  build: { transpile: ['vuetify'] },
  css: [
    'vuetify/styles', '@fontsource-variable/atkinson-hyperlegible-next/index.css', '@fontsource/atkinson-hyperlegible-mono/400.css', '@fontsource/atkinson-hyperlegible-mono/600.css',
    '@fontsource-variable/archivo/wdth.css', '~/styles/drawing.css', '~/styles/print.css',
  ],
  app: { head: { title: 'Able Mast', htmlAttrs: { lang: 'en' }, meta: [{ name: 'viewport', content: 'width=device-width, initial-scale=1' }, { name: 'color-scheme', content: 'light dark' }] } },
  vite: {
    plugins: [vuetify({ autoImport: true })],
    worker: { format: 'es' },
    build: { chunkSizeWarningLimit: 1500 },
  },
  nitro: {
    externals: { inline: ['@mast/core', '@mast/protocol', '@mast/standins'] },
    esbuild: { options: { target: 'es2022' } },
  },
  typescript: { strict: true, tsConfig: { compilerOptions: { noUncheckedIndexedAccess: true } } },
  experimental: { payloadExtraction: false, appManifest: false },
})
