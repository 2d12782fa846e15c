import { defineConfig } from 'vitest/config'

const shared = {
  // What is said of a question depends on which kinds of study there are.
  setupFiles: ['tests/kinds.ts'],
  testTimeout: 60_000,
  hookTimeout: 120_000,
}

export default defineConfig({
  test: {
    globalSetup: ['tests/threads.ts'],
    // As many as there are cores: by itself the runner leaves one of two idle.
    maxWorkers: '100%',
    projects: [
      // Pure functions leave nothing behind: their files can share a process, and what it has read.
      { test: { ...shared, name: 'pure', include: ['core/**/*.test.ts', 'app/**/*.test.ts'], isolate: false } },
      {
        test: {
          ...shared,
          name: 'whole',
          include: ['server/**/*.test.ts', 'demo/**/*.test.ts', 'script/**/*.test.ts', 'tests/**/*.test.ts'],
          exclude: ['tests/browser/**', 'node_modules/**', 'build/**'],
        },
      },
    ],
  },
})
