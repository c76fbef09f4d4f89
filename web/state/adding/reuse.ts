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
 * @param base the model it is copied from @param label ends the names of the copy
 * @returns the names of the new elements by those of the old
 */
export function addCopy(m: Model, base: Model, live: Live, picked: Bundle, motion: Motion, label: string): ReadonlyMap<string, string> {
  // points fixed in bodies that are not copied, on which the copy is drawn, become points of the ground
  const left = new Set(base.bodies.map((b) => b.name).filter((n) => !picked.get('bodies')!.has(n))),
    anew = new Set(pointsOn(base, picked, left));
  const bundle: Bundle = new Map([...picked, ['points', new Set([...picked.get('points')!, ...anew])]]);
  const names = namesOfCopy(m, bundle, label);
  const copies = new Copies(base, live, bundle, anew, names, motion);
  for (const { key: family } of FAMILIES)
    base[family].forEach((e, index) => {
      if (bundle.get(family)!.has(e.name)) m[family].push(copies.of(family, index, e));
    });
  return new Map([...names].map(([a, b]) => [a, b.slice(b.indexOf('/') + 1)]));
}

/** Free names for what is copied, both as `family/name`. */
function namesOfCopy(m: Model, bundle: Bundle, label: string): Map<string, string> {
  const names = new Map<string, string>(),
    given = new Set<string>();
  const taken = (family: Family, name: string) =>
    m[family].some((e) => e.name === name) || name === m.ground || given.has(`${family}/${name}`);
  for (const { key } of FAMILIES)
    for (const name of bundle.get(key)!) {
      let fresh = `${name} ${label}`.slice(0, 80);
      for (let n = 2; taken(key, fresh); n++) fresh = `${name} ${label} ${n}`.slice(0, 80);
      given.add(`${key}/${fresh}`);
      names.set(`${key}/${name}`, `${key}/${fresh}`);
    }
  return names;
}

/** Elements as they are after a motion, under other names. */
class Copies {
  private readonly T: Matrix4;
  private readonly layout: ReturnType<typeof drawnLayout>;
  /** @param anew points that become points of the ground */
  constructor(
    private readonly base: Model,
    private readonly live: Live,
    private readonly bundle: Bundle,
    private readonly anew: ReadonlySet<string>,
    private readonly names: ReadonlyMap<string, string>,
    private readonly motion: Motion,
  ) {
    this.T = matrixOf(motion);
    this.layout = drawnLayout(base, live);
  }

  of(family: Family, index: number, e: RawElement): RawElement {
    const copy: RawElement = { ...(JSON.parse(JSON.stringify(e)) as RawElement), name: this.renamed(family, e.name) };
    this.refer(family, copy);
    if (family === 'points') copy.at = this.pointAt(index, e, copy);
    if (family === 'bodies') this.turn(index, e, copy);
    else this.direct(family, index, e, copy);
    return Object.fromEntries(Object.entries(copy).filter(([, v]) => v !== undefined)) as RawElement;
  }

  private renamed(family: Family, name: string): string {
    return this.names.get(`${family}/${name}`)?.slice(family.length + 1) ?? name;
  }

  private number(family: Family, index: number, e: RawElement, field: string, part: number): number {
    return siAt(family, index, e, { field, part }, this.live);
  }
  private three(family: Family, index: number, e: RawElement, field: string): [number, number, number] {
    return AXES.map((k) => this.number(family, index, e, field, k)) as [number, number, number];
  }

  /** What it refers to is that of the copy, where that is copied too; gauges in formulas as well. */
  private refer(family: Family, copy: RawElement): void {
    for (const [key, f] of Object.entries(kindOf(family, copy)?.fields ?? {})) {
      const v = copy[key];
      if (f.type === 'ref' && typeof v === 'string') copy[key] = this.renamed(f.family, v);
      else if (f.type === 'refs' && Array.isArray(v)) copy[key] = v.map((n) => this.renamed(f.family, String(n)));
      else if (typeof v === 'string' && (f.type === 'quantity' || f.type === 'text'))
        copy[key] = v.replace(/\{([^{}]+)\}/g, (_all, n: string) => `{${this.renamed('gauges', n.trim())}}`);
    }
  }

  private pointAt(index: number, e: RawElement, copy: RawElement): RawElement['at'] {
    if (this.anew.has(e.name)) {
      copy.body = undefined;
      return new Vector3(...this.layout.point(e.name)).applyMatrix4(this.T).toArray().map(written);
    }
    if (e.body === undefined || e.body === '' || e.body === this.base.ground) return this.moved(index, e);
    return this.motion.type === 'mirror' ? local(rawAt('points', e, { field: 'at' }).value) : copy.at;
  }

  /** A ground point: formulas are kept where each coordinate goes over into itself. */
  private moved(index: number, e: RawElement): (number | string)[] {
    const { motion } = this;
    const raw = AXES.map((k) => rawAt('points', e, { field: 'at', part: k }).value ?? 0);
    const formula = (k: 0 | 1 | 2) => (typeof raw[k] === 'string' && !isLiteral(textOf(raw[k])) ? raw[k] : undefined);
    const value = (k: 0 | 1 | 2) => this.number('points', index, e, 'at', k);
    if (motion.type === 'shift')
      return AXES.map((k) => {
        const by = motion.by[k]!;
        if (by === 0) return raw[k] as string;
        return formula(k) === undefined ? written(value(k) + by) : `${formula(k)} + ${written(by)}`;
      });
    if (motion.type === 'mirror')
      return AXES.map((k) => {
        if (k !== motion.axis) return raw[k] as string;
        if (motion.at === 0) return negated(raw[k]);
        return formula(k) === undefined ? written(2 * motion.at - value(k)) : `${written(2 * motion.at)} - (${formula(k)})`;
      });
    return new Vector3(...this.three('points', index, e, 'at')).applyMatrix4(this.T).toArray().map(written);
  }

  /** A body's axes and start motion. */
  private turn(index: number, e: RawElement, copy: RawElement): void {
    const { motion, T, layout } = this;
    if (motion.type === 'shift') return;
    for (const field of ['velocity', 'spin'] as const) {
      if (e[field] === undefined) continue;
      const v = this.three('bodies', index, e, field);
      // a spin is an axial vector: mirrored it keeps its part along the normal
      copy[field] =
        motion.type === 'mirror'
          ? v.map((x, k) => ((field === 'velocity') === (k === motion.axis) ? -x : x))
          : new Vector3(...v).applyMatrix4(T.clone().setPosition(0, 0, 0)).toArray();
    }
    const mirror = motion.type === 'mirror';
    if (mirror && e.centre !== undefined) copy.centre = local(e.centre as RawValue);
    if (mirror && Array.isArray(e.products))
      copy.products = [negated(e.products[0] as RawValue), negated(e.products[1] as RawValue), e.products[2] as number];
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
  private direct(family: Family, index: number, e: RawElement, copy: RawElement): void {
    if (this.motion.type === 'shift') return;
    const kind = kindOf(family, e);
    const { turn, shift } = partsOf(this.T);
    for (const [key, f] of Object.entries(kind?.fields ?? {})) {
      if (f.type !== 'vector' || !f.direction || f.world) continue;
      if (!Array.isArray(rawAt(family, e, { field: key }).value)) continue;
      const v: Vec3 = this.three(family, index, e, key);
      const comes = (body: string) => this.bundle.get('bodies')!.has(body);
      const out = carriedDirection(family, kind!, e, f, v, { turn, origin: shift }, comes);
      if (out.some((x, k) => x !== v[k])) copy[key] = out.map((x) => Number(x.toFixed(12)) + 0);
    }
  }
}

/** In the axes of a mirrored body y is turned round. */
function local(v: RawValue): (number | string)[] {
  const list = Array.isArray(v) ? (v as (number | string)[]) : [0, 0, 0];
  return [list[0]!, negated(list[1]), list[2]!];
}
