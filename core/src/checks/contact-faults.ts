/** What is wrong with contact: shapes that begin deep in one another, and those that take no part. */
import { type Diagnosis, type Fix, listed } from '../diagnosis';
import { MOST } from '../geometry/contact/crossing';
import { Facets } from '../geometry/contact/facets';
import type { Overlap } from '../equations/contact/touches';
import { type Mat3, type Vec3, add, apply, cross, dot, norm, scale, sub } from '../geometry/vector';
import { where } from '../model/where';
import { D } from '../quantity/dimension';
import { formatNumber, formatQuantity } from '../quantity/units';
import { freeBasis } from '../solve/reduced';
import type { Mechanism } from '../system/mechanism';
import { bodiesOf } from './bodies-of';
import { movedBy } from './separate';

/** Speed at which what overlaps is thrown apart, m/s, from which on that is told. */
const THROWN = 0.02;
/** Steps that half a swing of what lies on a spring takes; and how many are very many. */
const A_SWING = 8;
const VERY_MANY = 2e6;
/** m/s², and a depth that is little, m. */
const WEIGHT = 9.81;
const SHALLOW = 1e-5;
const PI = 3.141592653589793;
/** Part of a speed that is none. */
const FIXED = 1e-9;

/** Contact that starts deep. */
function overlapping(m: Mechanism): Diagnosis[] {
  const { assembly, system, model } = m;
  return assembly.forces.flatMap(({ name, force }) => {
    const deep = [...(force.touches?.overlaps(system.K) ?? [])].filter((x) => x.speed > THROWN).sort((a, b) => b.speed - a.speed),
      held = new Set(deep.length > 0 ? stuck(m, deep) : []),
      list = [deep.filter((x) => held.has(x)), deep.filter((x) => !held.has(x))];
    return list.flatMap(([first, ...rest], i): Diagnosis[] => {
      if (!first) return [];
      const others = rest.length > 0 ? `, and ${rest.length} more pairs` : '',
        by = formatQuantity(first.depth, D.length, undefined, 3),
        [one, other] = first.shapes;
      if (i === 0)
        return [
          {
            code: 'contact-held',
            severity: 'warning',
            message: `Joints hold “${one}” and “${other}” in one another, by ${by}${others}.`,
            why: 'The joints work against this contact: what presses can never part them.',
            remedy: 'Correct the joints or the shapes, or leave one of them out of this contact.',
            ...where(model, 'loads', name),
          },
        ];
      const fix = rest.length === 0 ? separated(m, first) : undefined;
      return [
        {
          code: 'contact-deep',
          severity: 'warning',
          message: `“${one}” and “${other}” overlap by ${by} at the start${others}.`,
          why: `What holds them apart would throw them at ${formatQuantity(first.speed, D.speed, 'm/s', 2)}.`,
          remedy: 'Move them apart, or leave one of them out of this contact.',
          ...where(model, 'loads', name),
          ...(fix ? { fix } : {}),
        },
      ];
    });
  });
}
/** Those that no free motion parts, nor brings nearer. */
function stuck({ system }: Mechanism, list: readonly Overlap[]): Overlap[] {
  const { K } = system;
  system.linearise();
  const basis = freeBasis(system),
    speed = (u: Float64Array, body: number, { at, n }: Overlap): [along: number, size: number] => {
      if (body >= system.bodies) return [0, 0];
      const take = (x: ArrayLike<number>, p: number): Vec3 => [x[p]!, x[p + 1]!, x[p + 2]!],
        A = Array.from(K.A.subarray(9 * body, 9 * body + 9)) as unknown as Mat3,
        v = add(take(u, 6 * body), cross(apply(A, take(u, 6 * body + 3)), sub(at, take(K.r, 3 * body))));
      return [dot(v, n), norm(v)];
    };
  return list.filter((x) =>
    basis.every((u) => {
      const [[a, va], [b, vb]] = [speed(u, x.a, x), speed(u, x.b, x)];
      return Math.abs(a - b) <= FIXED * Math.max(va, vb, FIXED);
    }),
  );
}
/** The one of two bodies that no joint holds, moved out. */
function separated({ model, joints, bodies }: Mechanism, { a, b, depth, n }: Overlap): Fix | undefined {
  for (const [i, sign] of [
    [a, 1],
    [b, -1],
  ] as const) {
    const body = bodies[i];
    if (!body || joints.some((j) => j.bodies.includes(body.name))) continue;
    const fix = movedBy(model, body.name, scale(n, sign * depth));
    if (fix) return fix;
  }
  return undefined;
}

/** Bodies that have nothing to touch with. */
function shapeless({ resolution, shapes, model }: Mechanism): Diagnosis[] {
  return resolution.elements.loads.flatMap((l) => {
    const names = l.kind.touches ? bodiesOf(l).filter((b) => !shapes.some((s) => s.body === b)) : [];
    if (names.length === 0) return [];
    const off = model.shapes.some((s) => s.off && names.includes(String(s.body)));
    return [
      {
        code: 'contact-shapeless',
        severity: 'warning',
        message: `${listed(names.map((n) => `“${n}”`), 3)} ${names.length === 1 ? 'has' : 'have'} no shape that could touch${off ? ': it is switched off' : ''}.`, // prettier-ignore
        why: 'Contact is between the shapes of bodies.',
        remedy: off ? 'Switch the shape on, or leave the body out.' : 'Give it a shape, or leave it out.',
        ...where(model, 'loads', l.name),
      },
    ];
  });
}

/** A stiffness with which what slides or rolls takes very many steps. */
function stiff({ assembly, bodies, model, resolution }: Mechanism): Diagnosis[] {
  return assembly.forces.flatMap(({ name, force }) => {
    const { touches } = force,
      { stiffness } = (resolution.elements.loads.find((l) => l.name === name)?.values ?? {}) as { stiffness?: number },
      light = [...new Set(touches?.pairs.flat())].flatMap((i) => bodies[i] ?? []).sort((a, b) => a.mass - b.mass)[0];
    if (!touches || !light || !(light.mass > 0) || stiffness === undefined) return [];
    const lasts = PI * Math.sqrt(light.mass / stiffness),
      steps = (resolution.run.until / lasts) * A_SWING;
    if (steps < VERY_MANY) return [];
    return [
      {
        code: 'contact-stiff',
        severity: 'note',
        message: `It is very stiff for “${light.name}”: an impact lasts ${formatQuantity(lasts, D.time, undefined, 2)}.`,
        why: `While that slides or rolls, ${formatQuantity(resolution.run.until, D.time, 's')} can take ${formatNumber(steps, 1)} steps.`,
        remedy: `With ${formatQuantity((light.mass * WEIGHT) / SHALLOW, D.stiffness, 'N/mm', 1)} it still lies only ${formatQuantity(SHALLOW, D.length, 'mm')} deep under its weight.`,
        ...where(model, 'loads', name),
      },
    ];
  });
}

/** Shapes of bodies in contact whose surface is open, so that they take no part. */
function open({ resolution, shapes, model }: Mechanism): Diagnosis[] {
  return resolution.elements.loads.flatMap((l) => {
    const names = l.kind.touches ? shapes.filter((s) => !s.forms && bodiesOf(l).includes(s.body)).map((s) => `“${s.name}”`) : [];
    if (names.length === 0) return [];
    return [
      {
        code: 'contact-open',
        severity: 'warning',
        message: `${listed(names, 3)} ${names.length === 1 ? 'takes' : 'take'} no part in it.`,
        why: 'The surface is open or touches itself, so that inside and outside cannot be distinguished.',
        remedy: 'Mend the part where it was made, or give the body a plain shape there: a box, a cylinder, a profile.',
        ...where(model, 'loads', l.name),
      },
    ];
  });
}
/** What touches by facets though it is meant to be round; and what has so many edges that they are left out where both have. */
function faceted({ resolution, shapes, model }: Mechanism): Diagnosis[] {
  return resolution.elements.loads.flatMap((l) => {
    if (!l.kind.touches) return [];
    const of = shapes.flatMap((s) =>
        (bodiesOf(l).includes(s.body) ? (s.forms ?? []) : []).flatMap(({ form }) =>
          form.type === 'facets' ? [{ name: `“${s.name}”`, facets: Facets.of(form) }] : [],
        ),
      ),
      round = of.filter((x) => x.facets.round).map((x) => x.name),
      many = of.filter((x) => x.facets.edges.length * x.facets.edges.length > MOST).map((x) => x.name),
      at = where(model, 'loads', l.name);
    return [
      ...(round.length > 0
        ? [
            {
              code: 'contact-facets',
              severity: 'note' as const,
              message: `${listed(round, 3)} ${round.length === 1 ? 'touches' : 'touch'} by facets: what is round there is as flat as it is drawn.`,
              why: 'What is imported, joined or cut is known by its triangles alone. What rolls on them is shaken a little.',
              remedy: 'Where that counts, give the body a plain shape there: a cylinder, a sphere, a profile.',
              ...at,
            },
          ]
        : []),
      ...(many.length > 0
        ? [
            {
              code: 'contact-edges',
              severity: 'note' as const,
              message: `${listed(many, 3)} ${many.length === 1 ? 'has' : 'have'} very many sharp edges.`,
              why: 'Where edges of two such parts cross is not looked at: they meet by their corners and faces alone.',
              remedy: 'Import them with fewer facets, or give the body plain shapes.',
              ...at,
            },
          ]
        : []),
    ];
  });
}

/** Of an assembled machine. */
export const faultsOfContact = (m: Mechanism): Diagnosis[] => [...overlapping(m), ...shapeless(m), ...stiff(m), ...open(m), ...faceted(m)];
