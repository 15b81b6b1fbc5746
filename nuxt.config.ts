import { createHash } from 'node:crypto'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import vuetify from 'vite-plugin-vuetify'

/**
 * Writes the service worker with the list of what was built; its text changes with every build,
 * which is how browsers learn of a new one.
 */
function writeServiceWorker(publicFolder: string): void {
  const assets = readdirSync(join(publicFolder, '_nuxt'))
    .filter((f) => /\.(js|css|woff2)$/.test(f))
    .sort()
    .map((f) => `/_nuxt/${f}`)
  const build = createHash('sha256').update(assets.join()).digest('hex').slice(0, 16)
  const source = readFileSync(join(import.meta.dirname, 'app/offline/serviceWorker.js'), 'utf8')
  writeFileSync(
    join(publicFolder, 'sw.js'),
    source.replace('__BUILD__', build).replace('__ASSETS__', JSON.stringify(assets)),
  )
}

/**
 * Every field of the component library carries a bar for loading that measures the page when it is
 * mounted, which costs a form more than
 * the rest of it together. No field here loads, so fields get a bar that is nothing until it is
 * needed (docs/decisions/0012-pieces.md).
 */
const fieldsWithoutBars = {
  name: 'fields-without-bars',
  enforce: 'pre' as const,
  resolveId: (source: string, importer?: string) =>
    /VProgressLinear\/index/.test(source) && /composables\/loader/.test(importer ?? '')
      ? join(import.meta.dirname, 'app/theme/loadingBar.ts')
      : undefined,
}

export default defineNuxtConfig({
  compatibilityDate: '2026-01-01',
  ssr: false,
  telemetry: false,
  devtools: { enabled: false },
  srcDir: 'app',
  serverDir: 'server',
  modules: ['@pinia/nuxt', '@vueuse/nuxt'],
  build: { transpile: ['vuetify'] },
  components: [
    { path: '~/turns', extensions: ['ts'], pattern: 'InTurns.ts', pathPrefix: false },
    '~/components',
  ],
  imports: { dirs: ['turns'] },
  css: [
    'vuetify/styles',
    '@fontsource-variable/atkinson-hyperlegible-next/index.css',
    '@fontsource/atkinson-hyperlegible-mono/400.css',
    '@fontsource/atkinson-hyperlegible-mono/600.css',
    '@fontsource-variable/archivo/wdth.css',
    '~/styles/drawing.css',
    '~/styles/print.css',
  ],
  app: {
    head: {
      title: 'Able Mast',
      htmlAttrs: { lang: 'en' },
      meta: [
        { name: 'viewport', content: 'width=device-width, initial-scale=1' },
        { name: 'color-scheme', content: 'light dark' },
      ],
    },
  },
  vite: {
    plugins: [fieldsWithoutBars, vuetify({ autoImport: true })],
    worker: { format: 'es' },
    build: { chunkSizeWarningLimit: 1500 },
  },
  nitro: {
    externals: { inline: ['@mast/api', '@mast/core', '@mast/protocol', '@mast/standins'] },
    esbuild: { options: { target: 'es2022' } },
    errorHandler: '~~/server/http/errors.ts',
    compressPublicAssets: { gzip: true, brotli: true },
    routeRules: { '/sw.js': { headers: { 'cache-control': 'no-cache' } } },
  },
  hooks: {
    'nitro:build:public-assets': (nitro) => writeServiceWorker(nitro.options.output.publicDir),
  },
  typescript: { strict: true, tsConfig: { compilerOptions: { noUncheckedIndexedAccess: true } } },
  // The service worker fetches every sheet's code once the first one stands; links need not as well.
  experimental: {
    payloadExtraction: false,
    appManifest: false,
    defaults: { nuxtLink: { prefetch: false } },
  },
})
