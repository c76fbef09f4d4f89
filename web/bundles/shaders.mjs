/**
 * Loader of the 3D library's shaders: leaves out those that no material of this application uses, 28 kB of the first screen.
 * They are texts that include one another by name and stand in one table, so the bundler cannot see by itself which are needed.
 * e2e/figures.test.ts measures the first screen, the scene's tests see whether anything is still drawn.
 */
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';

/** The programs of the materials in use (meshes and lines without lights, points), and what the renderer puts before each. */
const PROGRAMS = ['meshbasic', 'points', 'colorspace_pars_fragment', 'tonemapping_pars_fragment'];

/** Names of the shader texts that the programs in use are made of. */
function namesIn(dir) {
  const seen = new Set();
  const add = (name) => {
    if (seen.has(name)) return;
    seen.add(name);
    const file = ['ShaderLib', 'ShaderChunk'].map((d) => path.join(dir, d, `${name}.glsl.js`)).find((f) => existsSync(f));
    if (!file) throw new Error(`The 3D library has no shader "${name}".`);
    for (const [, part] of readFileSync(file, 'utf8').matchAll(/#include <(\w+)>/g)) add(part);
  };
  PROGRAMS.forEach(add);
  return seen;
}

let wanted;
export default function shaders(source) {
  wanted ??= namesIn(path.join(path.dirname(this.resourcePath), '..'));
  if (wanted.has(path.basename(this.resourcePath, '.glsl.js'))) return source;
  return this.resourcePath.includes('ShaderLib') ? `export const vertex = '', fragment = '';` : `export default '';`;
}
