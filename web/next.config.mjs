import { createHash } from 'node:crypto';
import { copyFileSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { buildSync } from 'esbuild';
import { PHASE_PRODUCTION_SERVER } from 'next/constants.js';
import { HEADERS } from './server/headers.mjs';

const here = import.meta.dirname;

/**
 * The engine's worker is bundled here and not by the framework, whose minifier turns `s += x; s += y` into
 * `s += x + y`: that changes the last bits of results, and browser and command line must give the same numbers.
 * e2e/first-machine.test.ts compares the two.
 */
function bundleEngine() {
  const outdir = path.join(here, 'public/engine');
  rmSync(outdir, { recursive: true, force: true });
  // the library of elementary functions carries wrappers for engines of long ago
  const plain = (name) => path.join(here, 'workers/plain', `${name}.cjs`);
  const alias = {
    '@stdlib/string-format': plain('format'),
    '@stdlib/utils-define-nonenumerable-read-only-property': plain('define'),
    '@stdlib/array-uint8': plain('uint8'),
    '@stdlib/array-uint16': plain('uint16'),
    '@stdlib/array-uint32': plain('uint32'),
    '@stdlib/array-float64': plain('float64'),
  };
  // each by itself: what the others share would else come with the first screen
  for (const name of ['engine', 'import', 'script'])
    buildSync({
      alias,
      entryPoints: { [name]: path.join(here, `workers/${name}.worker.ts`) },
      external: ['fs', 'path', 'crypto', 'node:module', 'module', 'worker_threads'],
      outdir,
      bundle: true,
      splitting: true,
      minify: true,
      charset: 'utf8',
      legalComments: 'linked',
      format: 'esm',
      target: 'es2022',
      logLevel: 'error',
    });
  copyFileSync(createRequire(import.meta.url).resolve('manifold-3d/manifold.wasm'), path.join(outdir, 'manifold.wasm'));
  copyFileSync(createRequire(import.meta.url).resolve('occt-import-js/dist/occt-import-js.wasm'), path.join(outdir, 'occt-import-js.wasm'));
  copyFileSync(path.join(here, '../THIRD-PARTY-NOTICES.md'), path.join(outdir, 'notices.txt'));
  return createHash('sha256')
    .update(readFileSync(path.join(outdir, 'engine.js')))
    .digest('hex')
    .slice(0, 12);
}

/** @type {(phase: string) => import('next').NextConfig} */
export default function config(phase) {
  return {
    transpilePackages: ['@vim-pivot/core'],
    typescript: { ignoreBuildErrors: true }, // bin/test checks types
    poweredByHeader: false,
    compress: false, // server/serve.mjs does
    headers: () => Promise.resolve([{ source: '/:path*', headers: HEADERS }]),
    turbopack: {
      root: path.join(here, '..'),
      resolveAlias: { three: 'three/src/Three.js' },
      rules: { '*.glsl.js': { loaders: [path.join(here, 'bundles/shaders.mjs')], as: '*.js' } },
    },
    ...(phase === PHASE_PRODUCTION_SERVER ? {} : { env: { ENGINE_VERSION: bundleEngine() } }),
  };
}
