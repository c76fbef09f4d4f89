/**
 * Making more of what is there: copies of a selection with what ties it together, in a row, round an axis or mirrored. Formulas stay formulas
 * where the motion allows it: shifted along the ground axes, or mirrored in a plane square to one.
 */
import { Matrix4, Vector3 } from 'three';
import { type Vec3, apply, carriedDirection, mul, sub, upright as rightHanded } from '@vim-pivot/core/drawn';
import {
  FAMILIES,
  type Bundle,
  type Family,
  type LiveValue,
  type Model,
  type RawElement,
  type RawValue,
  kindOf,
  pointsOn,
} from '@vim-pivot/core/page';
import { isLiteral, rawAt, siAt, textOf } from '../document/elements';
import { drawnLayout, partsOf, rotationFor } from '../scene/place';

type Live = ReadonlyMap<string, LiveValue>;
const AXES = [0, 1, 2] as const;

/** Where a copy goes. */
export type Motion =
  | { type: 'shift'; by: readonly [number, number, number] }
  | { type: 'turn'; about: readonly [number, number, number]; axis: readonly [number, number, number]; angle: number }
  /** In the ground plane square to an axis, at a coordinate. */
  | { type: 'mirror'; axis: 0 | 1 | 2; at: number };

const matrixOf = (m: Motion): Matrix4 => {
  if (m.type === 'shift') return new Matrix4().makeTranslation(...m.by);
  if (m.type === 'turn')
    return new Matrix4()
      .makeTranslation(...m.about)
      .multiply(new Matrix4().makeRotationAxis(new Vector3(...m.axis).normalize(), m.angle))
      .multiply(new Matrix4().makeTranslation(-m.about[0], -m.about[1], -m.about[2]));
  const s = new Matrix4();
  s.elements[5 * m.axis] = -1;
  s.elements[12 + m.axis] = 2 * m.at;
  return s;
};

const written = (metres: number): string | number => {
  const mm = Number((metres * 1000).toFixed(6));
  return mm === 0 ? 0 : `${mm} mm`;
};
const negated = (v: RawValue): number | string =>
  typeof v === 'number'
    ? v === 0
      ? 0
      : -v
    : isLiteral(String(v)) && !/^\s*[-−]/.test(String(v))
      ? `-${String(v).trim()}`
      : `-(${String(v)})`;

/** Why a selection cannot be copied so; undefined when it can. */
export function hindrance(model: Model, bundle: Bundle, motion: Motion): string | undefined {
  if (motion.type !== 'mirror') return undefined;
  const bad = FAMILIES.flatMap(({ key }) =>
    model[key]
      .filter((e) => bundle.get(key)!.has(e.name) && kindOf(key, e)?.handed)
      .map((e) => `${e.name} (${kindOf(key, e)!.label.toLowerCase()})`),
  );
  return bad.length > 0 ? `${bad.join(', ')} cannot be mirrored: in the mirror it would change hand.` : undefined;
}

/**
 * Adds a copy of a bundle to a draft.
 * @param base the model it is copied from @param index which copy it is, for the names
 * @returns the names of the new elements by those of the old
 */
export function addCopy(m: Model, base: Model, live: Live, picked: Bundle, motion: Motion, label: string): ReadonlyMap<string, string> {
  // points fixed in bodies that are not copied, on which the copy is drawn, become points of the ground
  const left = new Set(base.bodies.map((b) => b.name).filter((n) => !picked.get('bodies')!.has(n))),
    anew = new Set(pointsOn(base, picked, left));
  const bundle: Bundle = new Map([...picked, ['points', new Set([...picked.get('points')!, ...anew])]]);
  const T = matrixOf(motion);
  const mirror = motion.type === 'mirror';
  const names = new Map<string, string>();
  const taken = (family: Family, name: string) => m[family].some((e) => e.name === name) || name === m.ground;
  for (const { key } of FAMILIES) {
    for (const name of bundle.get(key)!) {
      let fresh = `${name} ${label}`.slice(0, 80);
      for (let n = 2; taken(key, fresh) || [...names.values()].includes(`${key}/${fresh}`); n++)
        fresh = `${name} ${label} ${n}`.slice(0, 80);
      names.set(`${key}/${name}`, `${key}/${fresh}`);
    }
  }
  const renamed = (family: Family, name: string): string => names.get(`${family}/${name}`)?.slice(family.length + 1) ?? name;
  const layout = drawnLayout(base, live);
  const number = (family: Family, index: number, e: RawElement, field: string, part: number): number =>
    siAt(family, index, e, { field, part }, live);
  const inGround = (e: RawElement) => e.body === undefined || e.body === '' || e.body === base.ground;

  for (const { key: family } of FAMILIES) {
    base[family].forEach((e, index) => {
      if (!bundle.get(family)!.has(e.name)) return;
      const copy: RawElement = { ...(JSON.parse(JSON.stringify(e)) as RawElement), name: renamed(family, e.name) };
      const kind = kindOf(family, e);
      for (const [key, f] of Object.entries(kind?.fields ?? {})) {
        const v = copy[key];
        if (f.type === 'ref' && typeof v === 'string') copy[key] = renamed(f.family, v);
        else if (f.type === 'refs' && Array.isArray(v)) copy[key] = v.map((n) => renamed(f.family, String(n)));
        // gauges in formulas are those of the copy
        else if (typeof v === 'string' && (f.type === 'quantity' || f.type === 'text'))
          copy[key] = v.replace(/\{([^{}]+)\}/g, (_all, n: string) => `{${renamed('gauges', n.trim())}}`);
      }
      if (family === 'points' && anew.has(e.name)) {
        copy.body = undefined;
        copy.at = new Vector3(...layout.point(e.name)).applyMatrix4(T).toArray().map(written);
      } else if (family === 'points')
        copy.at = inGround(e) ? placed(index, e) : mirror ? local(rawAt('points', e, { field: 'at' }).value) : copy.at;
      if (family === 'bodies') turned(index, e, copy);
      else directions(family, index, e, copy);
      m[family].push(Object.fromEntries(Object.entries(copy).filter(([, v]) => v !== undefined)) as RawElement);
    });
  }
  return new Map([...names].map(([a, b]) => [a, b.slice(b.indexOf('/') + 1)]));

  /** A ground point: formulas are kept where each coordinate goes over into itself. */
  function placed(index: number, e: RawElement): (number | string)[] {
    const raw = AXES.map((k) => rawAt('points', e, { field: 'at', part: k }).value ?? 0);
    if (motion.type === 'shift')
      return AXES.map((k) =>
        motion.by[k] === 0
          ? (raw[k] as string)
          : typeof raw[k] === 'string' && !isLiteral(textOf(raw[k]))
            ? `${raw[k] as string} + ${written(motion.by[k]!)}`
            : written(number('points', index, e, 'at', k) + motion.by[k]!),
      );
    if (motion.type === 'mirror')
      return AXES.map((k) =>
        k !== motion.axis
          ? (raw[k] as string)
          : motion.at === 0
            ? negated(raw[k])
            : typeof raw[k] === 'string' && !isLiteral(textOf(raw[k]))
              ? `${written(2 * motion.at)} - (${raw[k] as string})`
              : written(2 * motion.at - number('points', index, e, 'at', k)),
      );
    return new Vector3(...(AXES.map((k) => number('points', index, e, 'at', k)) as [number, number, number]))
      .applyMatrix4(T)
      .toArray()
      .map(written);
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
      copy[field] =
        motion.type === 'mirror'
          ? v.map((x, k) => ((field === 'velocity') === (k === motion.axis) ? -x : x))
          : new Vector3(...(v as [number, number, number])).applyMatrix4(T.clone().setPosition(0, 0, 0)).toArray();
    }
    if (mirror) {
      if (e.centre !== undefined) copy.centre = local(e.centre as RawValue);
      if (Array.isArray(e.products))
        copy.products = [negated(e.products[0] as RawValue), negated(e.products[1] as RawValue), e.products[2] as number];
    }
    if (motion.type === 'shift') return;
    const { turn } = partsOf(T);
    const upright = rightHanded(mul(turn, layout.body(e.name).turn), mirror);
    const along =
      typeof e.aim === 'string' && e.aim !== '' && typeof e.origin === 'string'
        ? apply(turn, sub(layout.point(e.aim), layout.point(e.origin)))
        : undefined;
    copy.rotation = rotationFor(upright, along);
  }

  /**
   * Directions: those in ground axes go with the motion; those in a mirrored body's axes are turned round in y. An axis of turning keeps its sense of
   * turning.
   */
  function directions(family: Family, index: number, e: RawElement, copy: RawElement): void {
    if (motion.type === 'shift') return;
    const kind = kindOf(family, e);
    for (const [key, f] of Object.entries(kind?.fields ?? {})) {
      if (f.type !== 'vector' || !f.direction || f.world) continue;
      const raw = rawAt(family, e, { field: key }).value;
      if (!Array.isArray(raw)) continue;
      const v = AXES.map((k) => number(family, index, e, key, k)) as unknown as Vec3;
      const by = { turn: partsOf(T).turn, origin: partsOf(T).shift };
      const out = carriedDirection(family, kind!, e, f, v, by, (body) => bundle.get('bodies')!.has(body));
      if (out.every((x, k) => x === v[k])) continue;
      copy[key] = out.map((x) => Number(x.toFixed(12)) + 0);
    }
  }
}
