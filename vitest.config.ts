import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          include: [
            'api/**/*.test.ts',
            'app/**/*.test.ts',
            'core/**/*.test.ts',
            'protocol/**/*.test.ts',
            'standins/**/*.test.ts',
            'cli/**/*.test.ts',
            'demo/**/*.test.ts',
            'server/**/*.test.ts',
            'scripts/**/*.test.ts',
          ],
          testTimeout: 180_000,
        },
      },
      {
        test: {
          name: 'load',
          include: ['tests/load/**/*.test.ts'],
          testTimeout: 1_800_000,
          hookTimeout: 120_000,
          fileParallelism: false,
        },
      },
      {
        test: {
          name: 'attacks',
          include: ['tests/attacks/**/*.test.ts'],
          testTimeout: 180_000,
          hookTimeout: 120_000,
          fileParallelism: false,
        },
      },
      {
        test: {
          name: 'conformance',
          include: ['tests/conformance/**/*.test.ts'],
          testTimeout: 120_000,
        },
      },
    ],
  },
})
