/**
 * Making more of what is there: copies of a selection with what ties it together, in a row, round an axis or mirrored. Formulas stay formulas
 * where the motion allows it: shifted along the ground axes, or mirrored in a plane square to one.
 */
import { Matrix4, Vector3 } from 'three';
import { apply, mul, sub } from '@vim-pivot/core/drawn';
import { FAMILIES, type Family, type LiveValue, type Model, type RawElement, type RawValue, kindOf } from '@vim-pivot/core/page';
import type { Selected } from './document';
import { isLiteral, rawAt, siAt, textOf } from './elements';
import { drawnLayout, partsOf, rotationFor } from './place';

type Live = ReadonlyMap<string, LiveValue>;
const AXES = [0, 1, 2] as const;

/** Where a copy goes. */
export type Motion =
  | { type: 'shift'; by: readonly [number, number, number] }
  | { type: 'turn'; about: readonly [number, number, number]; axis: readonly [number, number, number]; angle: number }
  /** In the ground plane square to an axis, at a coordinate. */
  | { type: 'mirror'; axis: 0 | 1 | 2; at: number };

/** What is copied, by family, in the order of the model. */
export type Bundle = ReadonlyMap<Family, ReadonlySet<string>>;

const refsOf = (family: Family, e: RawElement): { family: Family; names: string[]; optional: boolean }[] =>
  Object.entries(kindOf(family, e)?.fields ?? {}).flatMap(([key, f]) => {
    if (f.type !== 'ref' && f.type !== 'refs') return [];
    const names = [e[key]].flat().filter((x): x is string => typeof x === 'string' && x !== '');
    return [{ family: f.family, names, optional: !!f.optional }];
  });

/** The picked elements with all that hangs on them alone: shapes of the bodies, their points, joints and loads between them, drives and gauges of those. */
export function bundleOf(model: Model, picked: readonly Selected[]): Bundle {
  const names = new Map<Family, Set<string>>(FAMILIES.map((f) => [f.key, new Set()]));
  const take = (family: Family, name: string) => names.get(family)!.add(name);
  for (const p of picked) take(p.family, p.name);
  const bodies = names.get('bodies')!;
  for (const p of model.points) if (typeof p.body === 'string' && bodies.has(p.body)) take('points', p.name);
  for (const s of model.shapes) if (bodies.has(String(s.body))) take('shapes', s.name);
  // points in the ground on which the bodies and their shapes are drawn
  const drawn = new Set([...model.bodies.filter((b) => bodies.has(b.name)).flatMap((b) => refsOf('bodies', b)), ...model.shapes.filter((s) => names.get('shapes')!.has(s.name)).flatMap((s) => refsOf('shapes', s))].flatMap((r) => (r.family === 'points' ? r.names : [])));
  for (const p of model.points) if (drawn.has(p.name) && (p.body === undefined || p.body === '' || p.body === model.ground)) take('points', p.name);
  // what ties two of them, or one of them to the ground
  const ties = (family: Family) => {
    for (const e of model[family]) {
      const on = refsOf(family, e).filter((r) => r.family === 'bodies').flatMap((r) => r.names);
      const foreign = on.filter((b) => !bodies.has(b) && b !== model.ground);
      if (on.some((b) => bodies.has(b)) && foreign.length === 0) take(family, e.name);
    }
  };
  ties('joints');
  ties('loads');
  const joints = names.get('joints')!;
  for (const family of ['couplings', 'starts', 'drives', 'loads', 'gauges'] as const) {
    for (const e of model[family]) {
      const r = refsOf(family, e).filter((x) => ['joints', 'bodies', 'drives'].includes(x.family)).flatMap((x) => x.names.map((n) => [x.family, n] as const));
      if (r.length > 0 && r.every(([f, n]) => names.get(f)!.has(n) || n === model.ground) && r.some(([f, n]) => (f === 'joints' && joints.has(n)) || names.get(f)!.has(n))) take(family, e.name);
    }
  }
  // points of the joints and loads that came along
  for (const family of ['joints', 'loads'] as const) for (const e of model[family]) if (names.get(family)!.has(e.name)) for (const r of refsOf(family, e)) if (r.family === 'points') for (const n of r.names) {
    const home = model.points.find((p) => p.name === n)?.body;
    if (home === undefined || home === '' || home === model.ground || bodies.has(String(home))) take('points', n);
  }
  for (const shared of ['parameters', 'tables', 'materials'] as const) names.get(shared)!.clear();
  return names;
}

const matrixOf = (m: Motion): Matrix4 => {
  if (m.type === 'shift') return new Matrix4().makeTranslation(...m.by);
  if (m.type === 'turn') return new Matrix4().makeTranslation(...m.about).multiply(new Matrix4().makeRotationAxis(new Vector3(...m.axis).normalize(), m.angle)).multiply(new Matrix4().makeTranslation(-m.about[0], -m.about[1], -m.about[2]));
  const s = new Matrix4();
  s.elements[5 * m.axis] = -1;
  s.elements[12 + m.axis] = 2 * m.at;
  return s;
};

const written = (metres: number): string | number => {
  const mm = Number((metres * 1000).toFixed(6));
  return mm === 0 ? 0 : `${mm} mm`;
};
const negated = (v: RawValue): number | string => (typeof v === 'number' ? (v === 0 ? 0 : -v) : isLiteral(String(v)) && !/^\s*[-−]/.test(String(v)) ? `-${String(v).trim()}` : `-(${String(v)})`);

/** Why a selection cannot be copied so; undefined when it can. */
export function hindrance(model: Model, bundle: Bundle, motion: Motion): string | undefined {
  if (motion.type !== 'mirror') return undefined;
  const bad = FAMILIES.flatMap(({ key }) => model[key].filter((e) => bundle.get(key)!.has(e.name) && kindOf(key, e)?.handed).map((e) => `${e.name} (${kindOf(key, e)!.label.toLowerCase()})`));
  return bad.length > 0 ? `${bad.join(', ')} cannot be mirrored: in the mirror it would change hand.` : undefined;
}

/**
 * Adds a copy of a bundle to a draft.
 * @param base the model it is copied from @param index which copy it is, for the names
 * @returns the names of the new elements by those of the old
 */
export function addCopy(m: Model, base: Model, live: Live, bundle: Bundle, motion: Motion, label: string): ReadonlyMap<string, string> {
  const T = matrixOf(motion);
  const mirror = motion.type === 'mirror';
  const names = new Map<string, string>();
  const taken = (family: Family, name: string) => m[family].some((e) => e.name === name) || name === m.ground;
  for (const { key } of FAMILIES) {
    for (const name of bundle.get(key)!) {
      let fresh = `${name} ${label}`.slice(0, 80);
      for (let n = 2; taken(key, fresh) || [...names.values()].includes(`${key}/${fresh}`); n++) fresh = `${name} ${label} ${n}`.slice(0, 80);
      names.set(`${key}/${name}`, `${key}/${fresh}`);
    }
  }
  const renamed = (family: Family, name: string): string => names.get(`${family}/${name}`)?.slice(family.length + 1) ?? name;
  const layout = drawnLayout(base, live);
  const number = (family: Family, index: number, e: RawElement, field: string, part: number): number => siAt(family, index, e, { field, part }, live);
  const inGround = (e: RawElement) => e.body === undefined || e.body === '' || e.body === base.ground;

  for (const { key: family } of FAMILIES) {
    base[family].forEach((e, index) => {
      if (!bundle.get(family)!.has(e.name)) return;
      const copy: RawElement = { ...JSON.parse(JSON.stringify(e)) as RawElement, name: renamed(family, e.name) };
      const kind = kindOf(family, e);
      for (const [key, f] of Object.entries(kind?.fields ?? {})) {
        const v = copy[key];
        if (f.type === 'ref' && typeof v === 'string') copy[key] = renamed(f.family, v);
        else if (f.type === 'refs' && Array.isArray(v)) copy[key] = v.map((n) => renamed(f.family, String(n)));
        // gauges in formulas are those of the copy
        else if (typeof v === 'string' && (f.type === 'quantity' || f.type === 'text')) copy[key] = v.replace(/\{([^{}]+)\}/g, (_all, n: string) => `{${renamed('gauges', n.trim())}}`);
      }
      if (family === 'points') copy.at = inGround(e) ? placed(index, e) : mirror ? local(rawAt('points', e, { field: 'at' }).value) : copy.at;
      if (family === 'bodies') turned(index, e, copy);
      else directions(family, index, e, copy);
      m[family].push(Object.fromEntries(Object.entries(copy).filter(([, v]) => v !== undefined)) as RawElement);
    });
  }
  return new Map([...names].map(([a, b]) => [a, b.slice(b.indexOf('/') + 1)]));

  /** A ground point: formulas are kept where each coordinate goes over into itself. */
  function placed(index: number, e: RawElement): (number | string)[] {
    const raw = AXES.map((k) => rawAt('points', e, { field: 'at', part: k }).value ?? 0);
    if (motion.type === 'shift') return AXES.map((k) => (motion.by[k] === 0 ? (raw[k] as string) : typeof raw[k] === 'string' && !isLiteral(textOf(raw[k])) ? `${raw[k] as string} + ${written(motion.by[k]!)}` : written(number('points', index, e, 'at', k) + motion.by[k]!)));
    if (motion.type === 'mirror') return AXES.map((k) => (k !== motion.axis ? (raw[k] as string) : motion.at === 0 ? negated(raw[k]) : typeof raw[k] === 'string' && !isLiteral(textOf(raw[k])) ? `${written(2 * motion.at)} - (${raw[k] as string})` : written(2 * motion.at - number('points', index, e, 'at', k))));
    return new Vector3(...(AXES.map((k) => number('points', index, e, 'at', k)) as [number, number, number])).applyMatrix4(T).toArray().map(written);
  }
  /** In the axes of a mirrored body y is turned round. */
  function local(v: RawValue): (number | string)[] {
    const list = Array.isArray(v) ? (v as (number | string)[]) : [0, 0, 0];
    return [list[0]!, negated(list[1]), list[2]!];
  }

  function turned(index: number, e: RawElement, copy: RawElement): void {
    for (const field of ['velocity', 'spin'] as const) {
      if (e[field] === undefined || motion.type === 'shift') continue;
      const v = AXES.map((k) => number('bodies', index, e, field, k));
      // a spin is an axial vector: mirrored it keeps its part along the normal
      copy[field] = motion.type === 'mirror' ? v.map((x, k) => ((field === 'velocity') === (k === motion.axis) ? -x : x)) : new Vector3(...(v as [number, number, number])).applyMatrix4(T.clone().setPosition(0, 0, 0)).toArray();
    }
    if (mirror) {
      if (e.centre !== undefined) copy.centre = local(e.centre as RawValue);
      if (Array.isArray(e.products)) copy.products = [negated(e.products[0] as RawValue), negated(e.products[1] as RawValue), e.products[2] as number];
    }
    if (motion.type === 'shift') return;
    const { turn } = partsOf(T);
    // turned round in its own y, a mirrored frame is right-handed again
    const now = mul(turn, layout.body(e.name).turn), upright = mirror ? mul(now, [1, 0, 0, 0, -1, 0, 0, 0, 1]) : now;
    const along = typeof e.aim === 'string' && e.aim !== '' && typeof e.origin === 'string' ? apply(turn, sub(layout.point(e.aim), layout.point(e.origin))) : undefined;
    copy.rotation = rotationFor(upright, along);
  }

  /** Directions: those in ground axes go with the motion; those in a mirrored body's axes are turned round in y. An axis of turning keeps its sense of turning. */
  function directions(family: Family, index: number, e: RawElement, copy: RawElement): void {
    if (motion.type === 'shift') return;
    const kind = kindOf(family, e);
    for (const [key, f] of Object.entries(kind?.fields ?? {})) {
      if (f.type !== 'vector' || !f.direction || f.world) continue;
      const raw = rawAt(family, e, { field: key }).value;
      if (!Array.isArray(raw)) continue;
      // a shape's directions are in its body's axes, those of a joint where it says so, all others in the ground's
      const frame = family === 'shapes' ? String(e.body) : family === 'joints' ? (e.axisIn as string | undefined) : undefined;
      const moves = frame !== undefined && frame !== '' && bundle.get('bodies')!.has(frame);
      const v = AXES.map((k) => number(family, index, e, key, k));
      const axial = f.axial || (family === 'joints' && !kind?.freedoms?.includes('translation'));
      if (moves && !mirror) continue;
      const out = moves ? [v[0]!, -v[1]!, v[2]!] : new Vector3(...(v as [number, number, number])).applyMatrix4(T.clone().setPosition(0, 0, 0)).toArray();
      copy[key] = (mirror && axial ? out.map((x) => -x) : out).map((x) => Number(x.toFixed(12)) + 0);
    }
  }
}
