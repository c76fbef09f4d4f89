import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';

// the time is a guard against what never ends, not a figure: machines that share their processor take several times as long
const common = { testTimeout: 240_000, setupFiles: ['core/test/seed.ts'] };

export default defineConfig({
  test: {
    maxWorkers: availableParallelism(),
    projects: [
      // the core keeps no state between calls: its test files share the modules that are loaded
      { test: { ...common, name: 'core', include: ['core/test/**/*.test.ts'], isolate: false } },
      { test: { ...common, name: 'page and command line', include: ['cli/test/**/*.test.ts', 'web/test/**/*.test.ts'] } },
    ],
  },
});
