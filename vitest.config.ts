import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    setupFiles: ['tests/setup.ts'],
    include: ['tests/unit/**/*.test.ts'],
    environment: 'node',
    // All cores: by default one is left idle, and on two that is half.
    maxWorkers: '100%',
    testTimeout: 180_000,
    hookTimeout: 60_000,
  },
})
