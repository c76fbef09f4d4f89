/** The members of an instance become elements of the machine itself, where they stand, and no longer follow their kit. */
import { Refusal } from '../diagnosis';
import { renameAll } from '../formula/parse';
import { type Vec3, IDENTITY, applyT, mul, shortestTurn, sub, toRollPitchYaw, transpose } from '../geometry/vector';
import { mapAssigned } from './assigned';
import { type Model, type RawElement, type RawValue } from './document';
import { expand } from './expand';
import { FAMILIES, type Family } from './families';
import { takesFormula } from './fields';
import { placingsOf } from './instances';
import { kindOf } from './kinds';
import { type Pose, layOut } from './layout';
import { resolve } from './resolve';

const SETTLED = 1e-12;
const isStill = (by: Pose): boolean => by.origin.every((x) => x === 0) && by.turn.every((x, i) => Math.abs(x - IDENTITY[i]!) < SETTLED);
/** Rounded where the rounding is far below what can be measured. */
const tidy = (v: Vec3): number[] => v.map((x) => Number(x.toPrecision(15)) + 0);

/** @throws Refusal when the instance is in error */
export function independent(model: Model, name: string): Model {
  const { model: flat, counts } = expand(model);
  const r = resolve(model);
  if (!counts.has(name))
    throw new Refusal([
      {
        code: 'instance-unusable',
        severity: 'error',
        message: `“${name}” brings nothing.`,
        remedy: 'Put its errors right first.',
        element: { family: 'instances', name },
      },
    ]);
  const layout = layOut(r);
  const parameter = (n: string): string => {
    const at = flat.parameters.find((p) => p.name === n) ?? flat.tables.find((p) => p.name === n);
    return at && placingsOf(at).at(-1)?.instance === name ? n.replaceAll('.', '_') : n;
  };
  const formula = (v: RawValue): RawValue =>
    typeof v === 'string'
      ? renameAll(v, (n, what) => (what === 'gauge' ? n : parameter(n)))
      : Array.isArray(v)
        ? (v.map((x) => formula(x as RawValue)) as RawValue)
        : v;
  const rewritten = (family: Family, e: RawElement): RawElement => {
    const copy: RawElement = { name: e.name };
    for (const [key, v] of Object.entries(e)) if (v !== undefined) copy[key] = v as RawValue;
    if (family === 'parameters' || family === 'tables') copy.name = parameter(e.name);
    for (const [key, f] of Object.entries(kindOf(family, e)?.fields ?? {})) {
      if (takesFormula(f)) copy[key] = formula(copy[key] as RawValue);
      else if (f.type === 'assigned' && f.to === 'parameters' && typeof copy[key] === 'string')
        copy[key] = mapAssigned(
          copy[key],
          (n) => n,
          (x) => String(formula(x)),
        );
    }
    return copy;
  };
  const freed = (family: Family, e: RawElement, index: number): RawElement => {
    const copy = rewritten(family, e);
    const known = r.elements[family].find((x) => x.index === index);
    if (!known?.by || isStill(known.by)) return withoutUndefined(copy);
    for (const [key, f] of Object.entries(known.kind.fields)) {
      if (f.type === 'vector' && (f.direction || f.carried) && known.values[key] !== undefined && (e[key] !== undefined || f.direction))
        copy[key] = tidy(known.values[key] as Vec3);
    }
    if (family === 'points') {
      // moved from where it is drawn in a body that stays, it is given anew in that body's axes
      const home = known.moved && layout.body(known.values.body as string);
      copy.at = tidy(home ? applyT(home.turn, sub(layout.point(e.name), home.origin)) : (known.values.at as Vec3));
    }
    if (family === 'bodies') {
      const pose = layout.body(e.name);
      const { origin, aim } = known.values as { origin?: string; aim?: string };
      if (origin === undefined && pose.origin.some((x) => x !== 0)) copy.origin = `${e.name} origin`;
      const aimed = aim === undefined ? pose.turn : mul(transpose(shortestTurn([1, 0, 0], sub(layout.point(aim), pose.origin))), pose.turn);
      copy.rotation = tidy(toRollPitchYaw(aimed));
    }
    return withoutUndefined(copy);
  };
  const out = { ...model } as Model;
  for (const { key: family } of FAMILIES) {
    if (family === 'kits') continue;
    const stays = family === 'instances' ? model.instances.filter((e) => e.name !== name) : model[family];
    const brought =
      family === 'instances'
        ? []
        : flat[family].flatMap((e, index) => (placingsOf(e).at(-1)?.instance === name ? [freed(family, e, index)] : []));
    out[family] = [...stays.map((e) => withoutUndefined(rewritten(family, e))), ...brought];
  }
  // bodies drawn at the origin of their kit get a point there
  for (const b of flat.bodies) {
    const own = out.bodies.find((x) => x.name === b.name);
    if (own?.origin === `${b.name} origin` && !out.points.some((p) => p.name === own.origin))
      out.points.push({ name: own.origin, at: tidy(layout.body(b.name).origin) });
  }
  const bodies = flat.bodies.filter((b) => placingsOf(b).at(-1)?.instance === name).map((b) => b.name);
  out.instances = out.instances.map((e) =>
    Array.isArray(e.of) && e.of.includes(name as never)
      ? { ...e, of: e.of.filter((n) => n !== name) as string[], bodies: [...((e.bodies as string[] | undefined) ?? []), ...bodies] }
      : e,
  );
  return out;
}

const withoutUndefined = (e: RawElement): RawElement =>
  Object.fromEntries(Object.entries(e).filter(([, v]) => v !== undefined)) as RawElement;
