/**
 * Instances written out: each brings the elements of its kit under names of its own (`Left/Arm`, in formulas `Left.length`), with mounts replaced by the bodies
 * they stand for; mirrors bring images of what is there. Where all this comes to stand is worked out with the values, not here.
 */
import type { Diagnosis } from '../diagnosis';
import { Refusal } from '../diagnosis';
import { renameAll } from '../formula/parse';
import { mapAssigned, readAssigned } from './assigned';
import { bundleOf, pointsOn, refsOf } from './bundle';
import { type Model, type RawElement, type RawValue, contentOf } from './document';
import { FAMILIES, type Family, onlyShows } from './families';
import { takesFormula } from './fields';
import { inFormulas, memberName } from './instance-names';
import { type Placing, placed, placingsOf } from './instances';
import { kindOf } from './kinds';
import { resolveParameters } from './parameters';

export interface Expanded {
  model: Model;
  diagnoses: readonly Diagnosis[];
  /** Members of each instance, by name. */
  counts: ReadonlyMap<string, number>;
}

const MOST = 100_000;
const DEEPEST = 12;
/** Shared by all, not brought by each. */
const COMMON: ReadonlySet<Family> = new Set(['kits']);
const NOT_MIRRORED: ReadonlySet<Family> = new Set(['parameters', 'tables', 'materials', 'kits', 'instances']);
const done = new WeakMap<Model, Expanded>();

/** Once for each state of a model. */
export function expand(model: Model): Expanded {
  let found = done.get(model);
  if (!found) done.set(model, (found = expandAnew(model)));
  return found;
}

function expandAnew(given: Model): Expanded {
  const standsIn = given.bodies.some((b) => kindOf('bodies', b)?.standsIn);
  const diagnoses: Diagnosis[] = [];
  const counts = new Map<string, number>();
  if ((given.instances?.length ?? 0) === 0 && !standsIn) return { model: given, diagnoses, counts };
  const model = { ...given, ...Object.fromEntries(FAMILIES.map(({ key }) => [key, [...(given[key] ?? [])]])) } as Model;
  if (standsIn) diagnoses.push(...mountsAlone(model));
  let size = 0;
  const fault = (instance: string, code: string, message: string, remedy?: string) => {
    const index = given.instances.findIndex(
      (x) => instance === x.name || instance.startsWith(`${x.name}/`) || instance.startsWith(`${x.name} `),
    );
    diagnoses.push({
      code,
      severity: 'error',
      message,
      path: ['instances', Math.max(0, index)],
      element: { family: 'instances', name: given.instances[index]?.name ?? instance },
      ...(remedy ? { remedy } : {}),
    });
  };

  for (const e of [...model.instances]) if (kindOf('instances', e)?.makes !== 'mirrored') members(e, placingsOf(e), []);
  if (size > MOST) return { model: given, diagnoses, counts };
  mirrors();
  return { model, diagnoses, counts };

  /** Writes out the members of an instance of a kit. */
  function members(e: RawElement, outer: readonly Placing[], within: readonly string[]): void {
    const kind = kindOf('instances', e),
      kit = model.kits.find((k) => k.name === e.kit);
    if (e.off || !kit || !kind?.makes) return;
    if (within.includes(kit.name) || within.length >= DEEPEST)
      return fault(
        e.name,
        'kit-circle',
        `The kit “${kit.name}” contains itself: ${[...within, kit.name].join(' → ')}.`,
        'Take the instance out of the kit.',
      );
    const many = kind.makes === 'many';
    const count = many ? countOf(e) : 1;
    if (count === undefined) return;
    counts.set(e.name, count);
    let values: Map<string, string>, on: Map<string, string>;
    try {
      [values, on] = [readAssigned(e.values as string | undefined), readAssigned(e.on as string | undefined)];
    } catch (error) {
      if (error instanceof Refusal) return; // told where the values are read
      throw error;
    }
    const content = contentOf(kit);
    const mounts = content.bodies.filter((b) => kindOf('bodies', b)?.standsIn).map((b) => b.name);
    for (const n of values.keys())
      if (!content.parameters.some((p) => p.name === n))
        fault(
          e.name,
          'kit-value',
          `The kit “${kit.name}” has no parameter “${n}”.`,
          'Take it out of the values, or choose one that is there.',
        );
    for (const n of on.keys())
      if (!mounts.includes(n))
        fault(e.name, 'kit-mount', `The kit “${kit.name}” has no mount “${n}”.`, 'Take it out, or choose one that is there.');
    for (let i = 0; i < count; i++) {
      if (size > MOST) return fault(e.name, 'kit-size', `The instances bring more than ${MOST} elements.`, 'Make fewer of them.');
      const placings = [{ instance: e.name, member: i }, ...outer];
      bring(content, memberName(e.name, many, i), placings, values, on, [...within, kit.name]);
      if (many && e.joined !== undefined && e.joined !== 'none') neighbour(e, content, i, count, placings);
    }
  }

  function countOf(e: RawElement): number | undefined {
    const raw = e.count ?? 3;
    let n = Number(raw);
    if (typeof raw === 'string' && !Number.isFinite(n)) {
      // a formula of the parameters brought so far
      const name = 'number_of_members';
      const found = new Map<string, { value: number }>();
      resolveParameters({ parameters: [...model.parameters, { name, value: raw }], tables: model.tables }, [], found as never, new Set());
      n = found.get(`$.parameters[${model.parameters.length}].value`)?.value ?? NaN;
    }
    if (Number.isInteger(n) && n >= 1 && n <= 10_000) return n;
    fault(e.name, 'kit-count', `The number of members must be a whole number from 1 to 10000, not ${String(raw)}.`);
    return undefined;
  }

  /** Adds the elements of a kit under the name of a member. */
  function bring(
    content: Model,
    name: string,
    placings: readonly Placing[],
    values: ReadonlyMap<string, string>,
    on: ReadonlyMap<string, string>,
    within: readonly string[],
  ): void {
    const own = Object.fromEntries(FAMILIES.map(({ key }) => [key, new Set(content[key].map((x) => x.name))])) as Record<
      Family,
      Set<string>
    >;
    const brought = content.instances.flatMap((x) => [x.name]);
    const prefix = inFormulas(name);
    const host = (body: string): string | undefined =>
      body === content.ground
        ? model.ground
        : content.bodies.some((b) => b.name === body && kindOf('bodies', b)?.standsIn)
          ? (on.get(body) ?? model.ground)
          : undefined;
    const renamed = (family: Family, n: string): string => {
      if (COMMON.has(family)) return n;
      const to = family === 'bodies' ? host(n) : undefined;
      if (to !== undefined) return to;
      // of the kit itself, or of an instance within it
      if (own[family].has(n) || brought.some((b) => n.startsWith(`${b}/`) || n.startsWith(`${b} `)))
        return family === 'parameters' || family === 'tables' ? `${prefix}.${n}` : `${name}/${n}`;
      return n;
    };
    const formula = (text: string): string =>
      renameAll(text, (n, what) => {
        if (what === 'gauge') return renamed('gauges', n);
        if (own[what === 'call' ? 'tables' : 'parameters'].has(n)) return `${prefix}.${n}`;
        const first = n.slice(0, Math.max(0, n.indexOf('.')));
        return first !== '' &&
          content.instances.some(
            (x) =>
              first === inFormulas(x.name) ||
              (first.startsWith(`${inFormulas(x.name)}_`) && /^_\d+$/.test(first.slice(inFormulas(x.name).length))),
          )
          ? `${prefix}_${n}`
          : n;
      });
    for (const { key: family } of FAMILIES) {
      if (COMMON.has(family) || onlyShows(family)) continue;
      for (const e of content[family]) {
        const kind = kindOf(family, e);
        if (kind?.standsIn) continue;
        const copy: RawElement = { ...e, name: renamed(family, e.name) };
        for (const [key, f] of Object.entries(kind?.fields ?? {})) {
          const v = copy[key] as RawValue;
          if (v === undefined) continue;
          if (f.type === 'ref' && typeof v === 'string') {
            // what is given in the axes of a mount or of the ground is given in the kit's own
            if (f.family === 'bodies' && f.optional && host(v) !== undefined) copy[key] = undefined;
            else copy[key] = renamed(f.family, v);
          } else if (f.type === 'refs' && Array.isArray(v)) copy[key] = v.map((n) => renamed(f.family, String(n)));
          else if (takesFormula(f) && typeof v === 'string') copy[key] = formula(v);
          else if (f.type === 'vector' && Array.isArray(v)) copy[key] = v.map((x) => (typeof x === 'string' ? formula(x) : x)) as RawValue;
          else if (f.type === 'assigned' && typeof v === 'string')
            copy[key] = mapAssigned(
              v,
              (n) => n,
              (x) => (f.to === 'parameters' ? formula(x) : renamed('bodies', x)),
            );
        }
        if (family === 'parameters' && values.has(e.name)) copy.value = values.get(e.name)!;
        model[family].push(placed(copy, placings));
        size++;
        if (family === 'instances' && kind?.makes !== 'mirrored') members(copy, placings, within);
      }
    }
  }

  /** A joint between a member and the one before it; the first of a closed row to the last. */
  function neighbour(e: RawElement, content: Model, i: number, count: number, placings: readonly Placing[]): void {
    const closed = (e.ends === 'closed' || e.course === 'wheels') && count > 2;
    if (i === 0 && !closed) return;
    const links = content.bodies.filter((b) => !kindOf('bodies', b)?.standsIn).map((b) => b.name);
    const link = (e.link as string | undefined) || links[0];
    if (link === undefined || !links.includes(link)) {
      if (i <= 1)
        fault(
          e.name,
          'kit-link',
          link === undefined ? 'The kit has no body that could be joined to its neighbours.' : `The kit has no body “${link}”.`,
          'Name one of its bodies as the joined body.',
        );
      return;
    }
    const before = memberName(e.name, true, (i + count - 1) % count),
      here = memberName(e.name, true, i);
    const point = `${here}/joint to ${before}`;
    model.points.push(placed({ name: point, at: [0, 0, 0] }, placings));
    model.joints.push(
      placed(
        {
          name: point,
          kind: String(e.joined),
          bodies: [`${before}/${link}`, `${here}/${link}`],
          at: [point],
          ...('axis' in (kindOf('joints', { kind: String(e.joined) })?.fields ?? {}) ? { axis: [0, 0, 1] } : {}),
        },
        placings,
      ),
    );
  }

  /** Mirrors after what they mirror. */
  function mirrors(): void {
    let waiting = model.instances.filter((e) => kindOf('instances', e)?.makes === 'mirrored' && !e.off);
    while (waiting.length > 0) {
      const names = new Set(waiting.map((e) => e.name));
      const ready = waiting.filter((e) => ![e.of].flat().some((n) => names.has(String(n))));
      if (ready.length === 0)
        return fault(
          waiting[0]!.name,
          'mirror-circle',
          `The mirrors are images of each other: ${[...names].join(', ')}.`,
          'Let one of them mirror something else.',
        );
      for (const e of ready) image(e);
      waiting = waiting.filter((e) => !ready.includes(e));
    }
  }

  /** What is to stand on the original alone, with all that hangs on it. */
  function hereOnly(): ReadonlySet<RawElement> {
    const out = new Set<RawElement>(FAMILIES.flatMap(({ key }) => model[key].filter((x) => x.mirrored === false)));
    for (let size = -1; out.size !== size;) {
      size = out.size;
      const names = new Map(FAMILIES.map(({ key }) => [key, new Set(model[key].filter((x) => out.has(x)).map((x) => x.name))]));
      for (const { key } of FAMILIES)
        for (const x of model[key])
          if (!out.has(x) && refsOf(key, x).some((r) => r.names.some((n) => names.get(r.family)!.has(n)))) out.add(x);
    }
    return out;
  }

  function image(e: RawElement): void {
    counts.set(e.name, 1);
    const outer = placingsOf(e),
      listed = new Set([e.of].flat().map(String)),
      bodies = new Set([e.bodies].flat().map(String));
    if (listed.size + bodies.size === 0 || (e.of === undefined && e.bodies === undefined))
      return fault(e.name, 'mirror-empty', 'It mirrors nothing.', 'Name instances or bodies.');
    for (const b of model.bodies) if (placingsOf(b).some((p) => listed.has(p.instance))) bodies.add(b.name);
    const bundle = bundleOf(
      model,
      [...bodies].filter((b) => b !== 'undefined').map((name) => ({ family: 'bodies', name })),
      [e.shared].flat().map(String),
    );
    const anew = new Set(pointsOn(model, bundle, new Set([e.shared].flat().map(String))));
    const alone = hereOnly();
    const takes = (family: Family, x: RawElement) =>
      !NOT_MIRRORED.has(family) &&
      !alone.has(x) &&
      (bundle.get(family)!.has(x.name) || (family === 'points' && anew.has(x.name)) || placingsOf(x).some((p) => listed.has(p.instance)));
    const taken = Object.fromEntries(FAMILIES.map(({ key }) => [key, model[key].filter((x) => takes(key, x))])) as Record<
      Family,
      RawElement[]
    >;
    const names = Object.fromEntries(FAMILIES.map(({ key }) => [key, new Set(taken[key].map((x) => x.name))])) as Record<
      Family,
      Set<string>
    >;
    const handed = FAMILIES.flatMap(({ key }) =>
      taken[key].filter((x) => kindOf(key, x)?.handed).map((x) => `${x.name} (${kindOf(key, x)!.label.toLowerCase()})`),
    );
    if (handed.length > 0)
      return fault(
        e.name,
        'mirror-handed',
        `${handed.slice(0, 5).join(', ')} cannot be mirrored: in the mirror it would change hand.`,
        'Leave it out, or make the other side by hand.',
      );
    const stays = taken.joints.filter(
      (x) => typeof x.axisIn === 'string' && x.axisIn !== '' && x.axisIn !== model.ground && !names.bodies.has(x.axisIn),
    );
    if (stays.length > 0)
      return fault(
        e.name,
        'mirror-axis',
        `The axis of ${stays[0]!.name} is given in the axes of ${stays[0]!.axisIn as string}, which is not mirrored.`,
        'Give it in the ground’s axes, or mirror that body as well.',
      );
    const renamed = (family: Family, n: string) => (names[family].has(n) ? `${e.name}/${n}` : n);
    const formula = (text: string) => renameAll(text, (n, what) => (what === 'gauge' ? renamed('gauges', n) : n));
    for (const { key: family } of FAMILIES)
      for (const x of taken[family]) {
        const copy: RawElement = { ...x, name: `${e.name}/${x.name}` };
        for (const [key, f] of Object.entries(kindOf(family, x)?.fields ?? {})) {
          const v = copy[key] as RawValue;
          if (f.type === 'ref' && typeof v === 'string') copy[key] = renamed(f.family, v);
          else if (f.type === 'refs' && Array.isArray(v)) copy[key] = v.map((n) => renamed(f.family, String(n)));
          else if (takesFormula(f) && typeof v === 'string') copy[key] = formula(v);
        }
        const inner = placingsOf(x);
        model[family].push(placed(copy, [...inner.slice(0, inner.length - outer.length), { instance: e.name, member: 0 }, ...outer]));
        size++;
      }
  }
}

/** Where a mount is a body of its own because nothing tells how it moves: mass, kg, and inertia, kg·m². */
const FLOATING = { mass: 1, inertia: [0.01, 0.01, 0.01] } as const;

/**
 * A kit by itself. It is held somewhere: by what hangs on the ground, or else by its first mount, which then is the ground. Other mounts move with
 * machines that are
 * not here, and float: held as well they would lock what moves in the machine.
 * @returns a note on each that floats
 */
function mountsAlone(model: Model): Diagnosis[] {
  const all = model.bodies.filter((b) => kindOf('bodies', b)?.standsIn).map((b) => b.name);
  const tied = new Set(
    (['joints', 'loads', 'instances'] as const).flatMap((family) =>
      model[family].flatMap((e) => refsOf(family, e).flatMap((r) => (r.family === 'bodies' ? r.names : []))),
    ),
  );
  for (const e of model.instances)
    mapAssigned(
      String(e.on ?? ''),
      (n) => n,
      (x) => (tied.add(x), x),
    );
  const floats = new Set(all.slice(tied.has(model.ground) ? 0 : 1).filter((n) => tied.has(n)));
  const mounts = new Set(all.filter((n) => !floats.has(n)));
  model.bodies = model.bodies.map((b) => (floats.has(b.name) ? { name: b.name, ...FLOATING, inertia: [...FLOATING.inertia] } : b));
  hold(model, mounts);
  return [...floats].map((name) => ({
    code: 'mount-floats',
    severity: 'note',
    message: `By itself the kit does not know how ${name} moves: here it floats, as a body of ${FLOATING.mass} kg.`,
    why: 'Loads and motion in the open kit are not those in the machine.',
    remedy: 'Run the machine to read them.',
    path: ['bodies', model.bodies.findIndex((b) => b.name === name)],
    element: { family: 'bodies', name },
  }));
}

/** What is given of these bodies is given of the ground. */
function hold(model: Model, mounts: ReadonlySet<string>): void {
  if (mounts.size === 0) return;
  for (const { key } of FAMILIES)
    model[key] = model[key].map((e) => {
      const copy = { ...e };
      let changed = false;
      for (const [field, f] of Object.entries(kindOf(key, e)?.fields ?? {})) {
        const v = e[field];
        if (f.type === 'assigned' && f.to === 'mounts' && typeof v === 'string') {
          copy[field] = mapAssigned(
            v,
            (n) => n,
            (x) => (mounts.has(x) ? model.ground : x),
          );
          changed = true;
        }
        if ((f.type !== 'ref' && f.type !== 'refs') || f.family !== 'bodies') continue;
        if (f.type === 'ref' && typeof v === 'string' && mounts.has(v)) {
          copy[field] = f.optional ? undefined : model.ground;
          changed = true;
        } else if (f.type === 'refs' && Array.isArray(v) && v.some((n) => mounts.has(String(n)))) {
          copy[field] = v.map((n) => (mounts.has(String(n)) ? model.ground : String(n)));
          changed = true;
        }
      }
      return changed ? copy : e;
    });
}
