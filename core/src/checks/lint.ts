/** What looks wrong in a document though it can be computed: doubles, leftovers, slips of unit, gravity that is missing or sideways. */
import { type Diagnosis, listed } from '../diagnosis';
import type { LoadKind } from '../elements/declarations';
import { namesIn, parse, type Node } from '../formula/parse';
import { geometryNamed } from '../geometry/store';
import { norm, sub, unit, cross, type Vec3 } from '../geometry/vector';
import { mapAssigned } from '../model/assigned';
import { AXES_UP, type Model, type RawElement, type RawValue } from '../model/document';
import { FAMILIES, type Family } from '../model/families';
import { takesFormula } from '../model/fields';
import { kindOf, kindsOf } from '../model/kinds';
import { geometryOf } from '../model/stored';
import { applies, askedDimension } from '../model/rules';
import { D, identical } from '../quantity/dimension';
import { formatQuantity } from '../quantity/units';
import type { Mechanism } from '../system/mechanism';
import { where } from '../model/where';

/** Findings that need only the model file. */
export const lintModel = (model: Model): Diagnosis[] => [...unused(model), ...slips(model), ...gravityFaults(model)];

/** Findings that need places and joints. */
export const lintMechanism = (m: Mechanism): Diagnosis[] => [
  ...doubles(m),
  ...coaxial(m),
  ...startTwice(m),
  ...idleLoads(m),
  ...apart(m),
  ...brokenMeshes(m),
];

/** Triangles that are looked at in one check, so that it stays quick: a later one goes on. */
const LOOKED_AT_ONCE = 100_000;

/** Imported geometry whose surface does not enclose a volume cleanly, and what that does to its mass. */
function brokenMeshes(m: Mechanism): Diagnosis[] {
  let left = LOOKED_AT_ONCE;
  return m.model.shapes.flatMap((s): Diagnosis[] => {
    const [name] = s.off ? [] : geometryOf('shapes', s),
      g = name === undefined ? undefined : geometryNamed(name);
    if (!g) return [];
    const { faults, looked } = g.faults(left);
    left -= looked;
    return faults.map((f) => ({ ...f, ...where(m.model, 'shapes', s.name) }));
  });
}

/** Parameters and tables that no formula or field uses. */
function unused(model: Model): Diagnosis[] {
  const used = new Set<string>(),
    tables = new Set<string>();
  const formula = (v: unknown): void => {
    if (Array.isArray(v)) v.forEach(formula);
    if (typeof v !== 'string') return;
    try {
      const root = parse(v);
      namesIn(root, used);
      calls(root, tables);
    } catch {
      // names of elements and half-typed formulas
    }
  };
  for (const { key } of FAMILIES)
    for (const e of model[key])
      for (const [k, f] of Object.entries(kindOf(key, e)?.fields ?? {})) {
        if (takesFormula(f)) formula(e[k]);
        else if (f.type === 'assigned' && f.to === 'parameters' && typeof e[k] === 'string')
          mapAssigned(
            e[k],
            (n) => n,
            (x) => (formula(x), x),
          );
        else if (f.type === 'ref' && f.family === 'tables' && typeof e[k] === 'string') tables.add(e[k]);
      }
  Object.values(model.run).forEach(formula);
  const idle = (family: 'parameters' | 'tables', known: Set<string>) =>
    model[family]
      .filter((p) => !p.off && !known.has(p.name))
      .map((p): Diagnosis => ({
        code: 'unused',
        severity: 'note',
        message: 'Nothing uses it.',
        why: 'A change of it changes nothing.',
        remedy: 'Use it in a formula, or take it out.',
        ...where(model, family, p.name),
        fix: { label: 'Take it out', changes: [{ family, name: p.name, remove: true }] },
      }));
  return [...idle('parameters', used), ...idle('tables', tables)];
}
function calls(n: Node, found: Set<string>): void {
  if (n.kind !== 'call') return;
  found.add(n.name);
  n.args.forEach((a) => calls(a, found));
}

/** Plain numbers, which are SI, that look like millimetres or degrees. */
function slips(model: Model): Diagnosis[] {
  const lengths: number[] = [];
  const found: { d: Diagnosis; value: number }[] = [];
  for (const { key } of FAMILIES)
    for (const e of model[key]) {
      const fields = kindOf(key, e)?.fields ?? {};
      for (const [field, f] of Object.entries(fields)) {
        if ((f.type !== 'quantity' && f.type !== 'vector') || !applies(f, fields, e)) continue;
        const d = f.type === 'vector' ? f.dim : askedDimension(f.dim, fields, e, model);
        if (!d) continue;
        const raw = e[field] as RawValue;
        const isLength = identical(d, D.length),
          isAngle = identical(d, D.angle);
        if (!isLength && !isAngle) continue;
        (Array.isArray(raw) ? raw : [raw]).forEach((v, part) => {
          if (typeof v !== 'number' || v === 0) return;
          if (isLength) lengths.push(Math.abs(v));
          const suspect = isAngle ? Math.abs(v) > 6.5 : Math.abs(v) >= 5;
          if (suspect)
            found.push({
              value: isLength ? Math.abs(v) : Infinity,
              d: slip(model, key, e, field, Array.isArray(raw) ? part : undefined, v, isAngle),
            });
        });
      }
    }
  // lengths of metres are nothing odd in a machine of metres
  const typed = lengths.sort((a, b) => a - b),
    usual = typed[Math.floor(typed.length / 4)] ?? 0;
  return found
    .filter(({ value }) => value === Infinity || value > 100 * usual || typed.length <= 3)
    .map(({ d }) => d)
    .slice(0, 20);
}
function slip(model: Model, family: Family, e: RawElement, field: string, part: number | undefined, v: number, angle: boolean): Diagnosis {
  const meant = `${v} ${angle ? 'deg' : 'mm'}`;
  const whole = part === undefined ? meant : (e[field] as (number | string)[]).map((x, k) => (k === part ? meant : x));
  return {
    code: 'unit-slip',
    severity: 'warning',
    message: angle
      ? `${v} without a unit is ${v} rad, more than a turn. Is it degrees?`
      : `${v} without a unit is ${v} m. Is it millimetres?`,
    why: 'Numbers without a unit are SI.',
    remedy: `Write ${meant}, or ${v} ${angle ? 'rad' : 'm'} if that is what it is.`,
    ...where(model, family, e.name, field, ...(part === undefined ? [] : [part])),
    fix: { label: `Take it as ${meant}`, changes: [{ family, name: e.name, field, value: whole }] },
  };
}

/** Gravity left out, pointing up, or neither along an axis nor down. */
function gravityFaults(model: Model): Diagnosis[] {
  const kind = kindsOf('loads').find((k) => k.weighs !== undefined)!,
    field = kind.weighs!;
  const all = model.loads.filter((l) => l.kind === kind.kind && !l.off);
  if (all.length === 0)
    return model.bodies.length > 0
      ? [
          {
            code: 'gravity-none',
            severity: 'note',
            message: 'There is no gravity.',
            why: 'Nothing has weight.',
            remedy: 'Add gravity if the machine stands on earth.',
            fix: { label: 'Add gravity', changes: [{ family: 'loads', name: kind.label, add: { name: kind.label, kind: kind.kind } }] },
          },
        ]
      : [];
  if (all.length > 1)
    return [
      {
        code: 'gravity-twice',
        severity: 'warning',
        message: 'Gravity acts more than once.',
        why: 'Every body is as many times too heavy.',
        remedy: 'Keep one.',
        ...where(model, 'loads', all[1]!.name),
        fix: { label: 'Switch this one off', changes: [{ family: 'loads', name: all[1]!.name, field: 'off', value: true }] },
      },
    ];
  const raw = all[0]![field];
  if (!Array.isArray(raw)) return [];
  const g = raw.map((x) => (typeof x === 'number' ? x : Number.parseFloat(String(x)))) as unknown as Vec3;
  if (g.every((x) => x === 0))
    return [
      {
        code: 'gravity-none',
        severity: 'warning',
        message: 'Gravity is zero.',
        why: 'Nothing has weight.',
        remedy: 'Give it −9.81 m/s² along the axis that points up.',
        ...where(model, 'loads', all[0]!.name, field),
      },
    ];
  const up = model.up ?? 'z',
    along = AXES_UP.findIndex((a) => Math.abs(g[AXES_UP.indexOf(a)]!) > 0.999 * norm(g));
  const lifts = g[AXES_UP.indexOf(up)]!;
  if (lifts > 1e-9 * norm(g))
    return [
      {
        code: 'gravity-up',
        severity: 'warning',
        message: `Gravity has a part along +${up}: upwards as the machine is drawn.`,
        why: 'Everything would fall up.',
        remedy: 'Put a minus before it, unless that axis points down.',
        ...where(model, 'loads', all[0]!.name, field),
      },
    ];
  if (lifts < -0.999 * norm(g)) return [];
  const drawn = along >= 0 && g[along]! < 0 ? AXES_UP[along] : undefined;
  return [
    {
      code: 'gravity-sideways',
      severity: 'note',
      message: `Gravity does not pull along −${up}, which points down as the machine is drawn.`,
      why: 'A machine drawn lying down is easily read wrongly, or stands in the wrong gravity.',
      remedy: 'Choose the axis that points up under View, or turn gravity.',
      ...where(model, 'loads', all[0]!.name, field),
      ...(drawn ? { fix: { label: `Draw it with ${drawn} up`, changes: [], up: drawn } } : {}),
    },
  ];
}

/** Two joints between the same bodies that hold the same: one is there by mistake. */
function doubles(m: Mechanism): Diagnosis[] {
  const seen = new Map<string, string>(),
    of = drawn(m);
  return m.joints.flatMap((j): Diagnosis[] => {
    const place = of.get(j.name)!;
    const key = JSON.stringify([[...j.bodies].sort(), j.kind.kind, place.at]);
    const first = seen.get(key);
    seen.set(key, first ?? j.name);
    return first === undefined
      ? []
      : [
          {
            code: 'joint-double',
            severity: 'warning',
            message: `It is the same joint as “${first}”: same kind, bodies and place.`,
            why: 'Loads are shared between the two at will.',
            remedy: 'Switch one off.',
            others: [{ family: 'joints', name: first }],
            ...where(m.model, 'joints', j.name),
            fix: { label: 'Switch it off', changes: [{ family: 'joints', name: j.name, field: 'off', value: true }] },
          },
        ];
  });
}

/** How far two axes may be apart and still be one: of the machine's size, and as a sine. */
const ONE_AXIS = 1e-6;

/** Two hinges of the same bodies at different places of one axis, as on a door, or as parts merged on import leave them: the second holds nothing new. */
function coaxial(m: Mechanism): Diagnosis[] {
  const hinges = m.joints.filter((j) => j.kind.holds.length === 5 && j.freedoms.has('rotation')),
    places = placesOf(m),
    before = new Map<string, { name: string; axis: Vec3; at: Vec3 }[]>();
  return hinges.flatMap((j): Diagnosis[] => {
    const pair = [...j.bodies].sort().join('\n'),
      [name, axis, at] = [j.name, axisOf(m, j), places(j.name)],
      others = before.get(pair) ?? [];
    before.set(pair, [...others, { name, axis, at }]);
    const first = others.find((o) => {
      const between = sub(o.at, at),
        apart = norm(cross(between, axis));
      return norm(cross(o.axis, axis)) < ONE_AXIS && apart < ONE_AXIS * m.size && norm(between) > ONE_AXIS * m.size;
    });
    return first === undefined
      ? []
      : [
          {
            code: 'joint-coaxial',
            severity: 'note',
            message: `It turns about the same axis as “${first.name}”, between the same two bodies.`,
            why: 'One of them holds all that both hold. The machine moves rightly, but how the load is shared between the two is not unique. Parts merged into one body leave such pairs behind.',
            remedy: 'Keep one, or make the other a cylindrical joint or a point on a line.',
            others: [{ family: 'joints', name: first.name }],
            ...where(m.model, 'joints', j.name),
            fix: { label: 'Switch it off', changes: [{ family: 'joints', name: j.name, field: 'off', value: true }] },
          },
        ];
  });
}
/** Joints as they stand in the document, by their names. */
const drawn = (m: Mechanism): ReadonlyMap<string, RawElement> => new Map(m.model.joints.map((j) => [j.name, j]));
/** Where the first side of a joint is drawn, m. */
function placesOf(m: Mechanism): (joint: string) => Vec3 {
  const of = drawn(m);
  return (joint) => m.layout.point(String([of.get(joint)!.at].flat()[0]));
}

/** Two start values that give the same coordinate of a joint the same thing: at best one too many, at worst against each other. */
function startTwice(m: Mechanism): Diagnosis[] {
  return m.starts.flatMap((s, k): Diagnosis[] =>
    (['position', 'speed'] as const).flatMap((field) => {
      const first = s[field] && m.starts.slice(0, k).find((o) => o[field] && o.joint === s.joint && o.freedom === s.freedom);
      if (!first) return [];
      return [
        {
          code: 'start-twice',
          severity: 'warning',
          message: `“${first.name}” gives the ${field} of the same joint already.`,
          why: 'Two values for one coordinate: when they differ, at most one can be kept.',
          remedy: 'Keep one of the two.',
          others: [{ family: 'starts', name: first.name }],
          ...where(m.model, 'starts', s.name, field),
          fix: { label: 'Switch this one off', changes: [{ family: 'starts', name: s.name, field: 'off', value: true }] },
        },
      ];
    }),
  );
}

/** Loads that do nothing because what they need is zero or left out. */
function idleLoads(m: Mechanism): Diagnosis[] {
  const nothing = (x: unknown): boolean => x === undefined || x === 0 || (Array.isArray(x) && x.every(nothing));
  return m.resolution.elements.loads.flatMap(({ name, kind, values }): Diagnosis[] => {
    const { actsBy, fields } = kind as LoadKind,
      joint = (of: string) => m.joints.find((j) => j.name === of)!,
      by = actsBy?.(values as never, { joint }) ?? [];
    if (by.length === 0 || !by.every((field) => nothing(values[field]))) return [];
    return [
      {
        code: 'load-idle',
        severity: 'warning',
        message: `It does nothing: ${listed(by.map((field) => fields[field]!.label.toLowerCase()))} are zero or left out.`,
        remedy: 'Give one of them, or switch it off.',
        ...where(m.model, 'loads', name, by[0]!),
        fix: { label: 'Switch it off', changes: [{ family: 'loads', name, field: 'off', value: true }] },
      },
    ];
  });
}

/** Joints whose two places do not meet as drawn: assembly moves the bodies, and it is worth knowing how far. */
function apart(m: Mechanism): Diagnosis[] {
  const of = drawn(m);
  return m.joints.flatMap((j): Diagnosis[] => {
    const place = of.get(j.name)!.at;
    if (!Array.isArray(place) || place.length !== 2 || j.kind.holds.length < 3 || j.kind.leaves > 2) return [];
    const [a, b] = place.map((p) => m.layout.point(String(p))) as [Vec3, Vec3];
    const gap = sub(b, a),
      along = j.freedoms.has('translation') ? axisOf(m, j) : undefined;
    const distance = along ? norm(cross(gap, along)) : norm(gap);
    if (distance < 0.25 * m.size) return [];
    return [
      {
        code: 'joint-far',
        severity: 'note',
        message: `Its two sides are drawn ${formatQuantity(distance, D.length, 'mm', 4)} apart.`,
        why: 'Assembly brings them together, and may choose another posture than you mean.',
        remedy: 'Draw the bodies nearer to where they belong.',
        ...where(m.model, 'joints', j.name),
      },
    ];
  });
}
function axisOf(m: Mechanism, j: Mechanism['joints'][number]): Vec3 {
  const turn = m.layout.body(j.bodies[0]).turn,
    f = j.sides.fa;
  const z: Vec3 = [f[2], f[5], f[8]];
  return unit([0, 1, 2].map((k) => turn[3 * k]! * z[0] + turn[3 * k + 1]! * z[1] + turn[3 * k + 2]! * z[2]) as unknown as Vec3);
}
