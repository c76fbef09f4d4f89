#!/usr/bin/env node
/** Starts `pivot` from one bundled file, which is made anew when a source is newer: starting is then reading one file, not three hundred. */
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const here = dirname(fileURLToPath(import.meta.url)),
  bundle = join(here, '../dist/pivot.mjs');

function newest(folder) {
  let last = 0;
  for (const e of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, e.name);
    last = Math.max(last, e.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return last;
}

if (!existsSync(bundle) || statSync(bundle).mtimeMs < Math.max(newest(join(here, '../src')), newest(join(here, '../../core/src')))) {
  const { build } = await import('./bundle.mjs');
  await build(bundle);
}
await import(pathToFileURL(bundle));
