import { defineConfig } from 'vitest/config'

/** Tests of the real interface: one browser and one server for each file, two files at a time. */
export default defineConfig({
  test: {
    include: ['tests/browser/**/*.test.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    // A page waits for its server and a server for its page: two fill two cores, and neither is kept from its turn.
    maxWorkers: 2,
  },
})
