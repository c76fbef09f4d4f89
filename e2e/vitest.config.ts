import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['e2e/**/*.test.ts'],
    globalSetup: ['e2e/server.ts'],
    // guards, not figures: a shared processor can be ten times slower than at other times
    testTimeout: 300_000,
    hookTimeout: 300_000,
    // browsers side by side, on one server; nothing here measures time
    fileParallelism: true,
    maxWorkers: 2,
  },
});
