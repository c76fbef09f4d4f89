/** What stands behind single values: formulas worked out, the words they may use, tables and laws as curves, masses. */
import { CONSTANTS, FAMILIES, FUNCTIONS, type Kind, build, jsonPath, kindsOf, resolve, unitNames, unitOf } from '@vim-pivot/core/engine';
import type { Word } from '../protocol';
import { type Handlers, post } from './post';

export const VALUES: Handlers<'declarations' | 'words' | 'evaluate' | 'characteristic' | 'mass' | 'features'> = {
  // as data: what they compute stays here
  declarations: ({ id }) =>
    post({ type: 'declarations', id, kinds: JSON.parse(JSON.stringify(FAMILIES.flatMap((f) => kindsOf(f.key)))) as Kind[] }),
  words: ({ id }) => post({ type: 'words', id, words: vocabulary() }),
  evaluate: ({ id, model, path }) => {
    const { live, diagnoses } = resolve(model);
    const value = live.get(path),
      fault = diagnoses.find((d) => d.severity === 'error' && d.path && jsonPath(d.path) === path)?.message;
    post({ type: 'evaluated', id, ...(fault ? { fault } : value ? { live: value } : {}) });
  },
  characteristic: ({ id, model, family, name }) => {
    const { mechanism, resolution } = build(model);
    const t = family === 'tables' ? resolution.tables.get(name) : undefined;
    const curve = t
      ? { x: 'x', y: 'y', dims: t.dims, points: tabled(t) }
      : family === 'loads'
        ? mechanism?.characteristic(name)
        : undefined;
    post({ type: 'characteristic', id, ...(curve ? { curve } : {}) });
  },
  mass: async ({ id, model, family, name }) => {
    const mass = (await import('@vim-pivot/core/on-demand')).massFound(build(model), family, name);
    post({ type: 'mass', id, ...(mass ? { mass } : {}) });
  },
  features: async ({ id, positions, indices }) =>
    post({ type: 'features', id, features: (await import('@vim-pivot/core/features')).findFeatures(positions, indices) }),
};

/** A table's function, finely enough to be seen. */
function tabled(t: { x: Float64Array; at(u: number): { f: number } }): [number, number][] {
  const from = t.x[0]!,
    to = t.x[t.x.length - 1]!;
  return Array.from({ length: 161 }, (_, i) => {
    const x = from + ((to - from) * i) / 160;
    return [x, t.at(x).f];
  });
}

/** Functions, constants and units of formulas. */
const vocabulary = (): Word[] => [
  ...Object.entries(FUNCTIONS)
    .filter(([, f]) => !f.operator)
    .map(([name, f]): Word => ({ type: 'function', name, args: [...f.args], help: f.help ?? '' })),
  ...Object.keys(CONSTANTS).map((name): Word => ({ type: 'constant', name, args: [], help: 'constant' })),
  ...unitNames().map((name): Word => ({ type: 'unit', name, args: [], help: unitOf(name)!.label })),
];
