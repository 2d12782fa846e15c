import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: [
      'core/**/*.test.ts',
      'server/**/*.test.ts',
      'app/**/*.test.ts',
      'demo/**/*.test.ts',
      'script/**/*.test.ts',
      'tests/**/*.test.ts',
    ],
    globalSetup: ['tests/threads.ts'],
    // What is said of a question depends on which kinds of study there are.
    setupFiles: ['tests/kinds.ts'],
    exclude: ['tests/browser/**', 'node_modules/**', 'build/**'],
    // As many as there are cores: by itself the runner leaves one of two idle.
    maxWorkers: '100%',
    testTimeout: 60_000,
    hookTimeout: 120_000,
  },
})
