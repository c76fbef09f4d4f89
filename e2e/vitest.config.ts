import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['e2e/**/*.test.ts'],
    globalSetup: ['e2e/server.ts'],
    testTimeout: 60_000,
    hookTimeout: 60_000,
    // one browser at a time: the figures are measured on a quiet machine
    fileParallelism: false,
  },
});
