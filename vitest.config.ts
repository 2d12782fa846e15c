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
    exclude: ['tests/browser/**', 'node_modules/**', 'build/**'],
    testTimeout: 30_000,
    hookTimeout: 120_000,
  },
})
