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
          // Functions without a memory: files may share what they import, which is most of their time.
          isolate: false,
          maxWorkers: 2,
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
          // Kernels and daemons are waited for more than they work; each has namespaces of its own.
          maxWorkers: 3,
        },
      },
    ],
  },
})
