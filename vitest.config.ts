import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    setupFiles: ['tests/setup.ts'],
    include: ['tests/unit/**/*.test.ts'],
    environment: 'node',
    // All cores: by default one is left idle, and on two that is half.
    maxWorkers: '100%',
    // These only end what hangs: a machine whose cores are taken by others is ten times as slow.
    testTimeout: 900_000,
    hookTimeout: 900_000,
    expect: { poll: { timeout: 300_000 } },
  },
})
