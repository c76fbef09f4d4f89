/** After the build: every script and style of the pages also compressed, as small as Brotli makes it, once and for all. */
import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { brotliCompressSync } from 'node:zlib';

const folder = path.join(import.meta.dirname, '../.next/static');
for (const file of readdirSync(folder, { recursive: true }).filter((f) => /\.(js|css)$/.test(f))) {
  writeFileSync(path.join(folder, `${file}.br`), brotliCompressSync(readFileSync(path.join(folder, file))));
}
