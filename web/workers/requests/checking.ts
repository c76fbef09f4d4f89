/** A model checked: findings, live values, what can be drawn, how it can move. */
import { FAMILIES, type Family, type Model, check, kindOf, shownUnit } from '@vim-pivot/core/engine';
import { buffersOf, draw } from '../draw';
import type { Checked, Picture } from '../protocol';
import { type Handlers, post } from './post';

export const CHECKING: Handlers<'check'> = {
  check: ({ id, model }) => {
    const checked = examine(model, (picture) => post({ type: 'drawn', id, picture }, buffersOf(picture)));
    post({ type: 'checked', id, checked });
  },
};

function examine(model: Model, show: (p: Picture) => void): Omit<Checked, 'picture'> {
  const report = check(model, ({ mechanism }, start) => show(draw(mechanism!, start)));
  const { mechanism, resolution } = report.built;
  const { diagnoses, mobility } = report;
  // values of what instances bring are not in the document
  const live = [...resolution.live].filter(([path]) => inDocument(model, path));
  const brought = resolution.model === model ? {} : broughtInto(model, resolution.model);
  if (!mechanism) return { diagnoses, live, gauges: [], ...brought };
  const gauges = mechanism.gauges.map((name) => {
    const c = mechanism.channel(name);
    return { name, dim: c.dim, unit: c.unit ?? shownUnit(c.dim), positive: c.positive, ...(c.sign ? { sign: c.sign } : {}) };
  });
  return { diagnoses, live, gauges, ...brought, ...(mobility ? { mobility: plain(mobility) } : {}) };
}

type Mobility = NonNullable<Checked['mobility']>;
/** What of a mobility the page is told. */
const plain = (m: NonNullable<ReturnType<typeof check>['mobility']>): Mobility => ({
  joints: m.joints,
  free: m.free,
  redundant: m.redundant,
  notUnique: [...m.notUnique],
  counted: m.counted,
  loops: [...m.loops],
  motions: [...m.motions],
  details: [...m.details],
});

/** What instances add to a model: the names of it, and how its points and joints hang on its bodies. */
function broughtInto(model: Model, whole: Model): Pick<Checked, 'brought' | 'within'> {
  const added = (family: Family) => whole[family].slice(model[family].length);
  const two = (b: unknown): b is [string, string] => Array.isArray(b) && typeof b[0] === 'string' && typeof b[1] === 'string';
  return {
    brought: Object.fromEntries(FAMILIES.map(({ key }) => [key, added(key).map((e) => e.name)])),
    within: {
      homes: Object.fromEntries(added('points').map((p) => [p.name, String(p.body ?? whole.ground)])),
      joints: added('joints').flatMap((j) =>
        two(j.bodies) ? [{ name: j.name, kind: kindOf('joints', j)?.label ?? '', bodies: j.bodies }] : [],
      ),
    },
  };
}

const PLACE = /^\$\.(\w+)\[(\d+)\]/;
const inDocument = (model: Model, path: string): boolean => {
  const m = PLACE.exec(path);
  return !m || Number(m[2]) < (model[m[1] as 'points']?.length ?? Infinity);
};
