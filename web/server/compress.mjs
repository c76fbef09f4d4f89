/** After the build: every script and style of the pages and of the workers also compressed, as small as Brotli makes it, once and for all. */
import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { brotliCompressSync } from 'node:zlib';

for (const folder of ['../.next/static', '../public/engine'].map((f) => path.join(import.meta.dirname, f)))
  for (const file of readdirSync(folder, { recursive: true }).filter((f) => /\.(js|css)$/.test(f)))
    writeFileSync(path.join(folder, `${file}.br`), brotliCompressSync(readFileSync(path.join(folder, file))));
