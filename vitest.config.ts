import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';

// the time is a guard against what never ends, not a figure: machines that share their processor take several times as long
const common = { testTimeout: 240_000, setupFiles: ['core/test/seed.ts'] };

export default defineConfig({
  test: {
    maxWorkers: availableParallelism(),
    projects: [
      // the core keeps no state between calls: its test files share the modules that are loaded
      { test: { ...common, name: 'core', include: ['core/test/**/*.test.ts'], exclude: ['core/test/**/*.alone.test.ts'], isolate: false } },
      // but for those that add kinds of elements of their own
      { test: { ...common, name: 'core, alone', include: ['core/test/**/*.alone.test.ts'] } },
      { test: { ...common, name: 'page and command line', include: ['cli/test/**/*.test.ts', 'web/test/**/*.test.ts'] } },
    ],
  },
});
