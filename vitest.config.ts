import { defineConfig } from 'vitest/config';

// the time is a guard against what never ends, not a figure: machines that share their processor take several times as long
export default defineConfig({
  test: {
    include: ['core/test/**/*.test.ts', 'cli/test/**/*.test.ts', 'web/test/**/*.test.ts'],
    testTimeout: 240_000,
    setupFiles: ['core/test/seed.ts'],
  },
});
