/** Bundles the command line, without minifying: its numbers are those of the sources to the last bit. */
import { renameSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const here = dirname(fileURLToPath(import.meta.url));

export async function build(to) {
  const esbuild = await import('esbuild');
  // made beside it and moved there, so that another start at the same time never reads half a file
  const made = `${to}.${process.pid}`;
  await esbuild.build({
    entryPoints: [join(here, '../src/main.ts')],
    outfile: made,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    charset: 'utf8',
    logLevel: 'error',
    external: ['manifold-3d'],
    banner: { js: "import { createRequire as makeRequire } from 'node:module'; const require = makeRequire(import.meta.url);" },
  });
  renameSync(made, to);
}
