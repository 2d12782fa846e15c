import { defineConfig } from 'vitest/config'

/** Tests of the real interface: one browser and one server for each file, one file at a time. */
export default defineConfig({
  test: {
    include: ['tests/browser/**/*.test.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    fileParallelism: false,
  },
})
