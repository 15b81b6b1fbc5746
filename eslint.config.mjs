import js from '@eslint/js'
import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

/** Dependencies point one way; each entry names what a folder may not reach. */
const walls = (files, patterns) => ({
  files,
  ignores: ['**/*.test.ts'],
  rules: { 'no-restricted-imports': ['error', { patterns }] },
})

export default ts.config(
  {
    ignores: ['node_modules', '.nuxt', '.output', '.mast', 'server/db/migrations', 'test-results'],
  },
  js.configs.recommended,
  ...ts.configs.strict,
  ...vue.configs['flat/essential'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    rules: {
      'no-undef': 'off',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-dynamic-delete': 'off',
      '@typescript-eslint/no-invalid-void-type': 'off',
      '@typescript-eslint/unified-signatures': 'off',
      'vue/multi-word-component-names': 'off',
      'no-console': 'off',
      'max-len': ['error', { code: 120, ignoreRegExpLiterals: true }],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
  {
    files: ['**/*.ts'],
    ignores: ['**/*.d.ts', '*.config.ts'],
    languageOptions: {
      parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname },
    },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': 'error',
    },
  },
  walls(
    ['core/**'],
    [
      {
        group: [
          'node:*',
          'fs',
          'path',
          'vue',
          'nuxt*',
          '#*',
          'drizzle-orm*',
          'pg',
          'h3',
          '@mast/standins*',
          '**/server/**',
          '**/app/**',
        ],
        message: 'core computes only: no I/O, no framework, nothing above it',
      },
    ],
  ),
  {
    files: ['core/**'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', 'fetch', 'window', 'document', 'process', 'setTimeout'],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random' },
        { object: 'Date', property: 'now' },
      ],
    },
  },
  walls(
    ['core/plan/**'],
    [
      {
        group: [
          '../topology*',
          '../policy*',
          '../forwarding*',
          '../findings*',
          '../adoption*',
          '../proof*',
          '../bringup*',
        ],
        message: 'the plan knows nothing of what is computed from it',
      },
    ],
  ),
  walls(
    ['standins/**'],
    [
      {
        regex: '^@mast/core/(?!plan$)|^\\.{1,2}/.*(core|server|app)/',
        message: 'the stand-ins know the description of a site, never its analysis',
      },
    ],
  ),
  walls(
    ['api/**'],
    [
      {
        group: ['vue', 'nuxt*', '#*', 'h3', 'drizzle-orm*', '**/server/**', '**/app/**'],
        message: 'what browser and server say to each other is neither of them',
      },
    ],
  ),
  walls(
    ['app/**'],
    [
      {
        group: ['**/server/**', '~~/server/**'],
        message: 'screens ask the routes that api/ describes',
      },
    ],
  ),
  {
    files: ['server/**'],
    ignores: ['server/{http,api,routes,middleware,plugins}/**', '**/*.test.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [{ group: ['h3', '**/http/**'], message: 'services know nothing of HTTP' }] },
      ],
    },
  },
  walls(
    ['protocol/**'],
    [{ group: ['@mast/*', '**/core/**', '**/server/**'], message: 'the protocol stands alone' }],
  ),
  walls(
    ['cli/**', 'demo/**'],
    [
      {
        group: ['**/server/**', '**/app/**', '#*'],
        message: 'the command line and the demo use core and the public routes',
      },
    ],
  ),
)
