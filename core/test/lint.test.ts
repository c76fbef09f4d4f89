/** Findings about models that can be computed but look wrong, each with a place and a remedy that removes it. */
import { describe, expect, it } from 'vitest';
import { type Diagnosis, type Family, type Model, type RawElement, check } from '../src';
import { model, sliderCrank } from './models';

const e = (list: object[]) => list as RawElement[];

/** The model after the finding's own fix. */
function fixed(m: Model, d: Diagnosis): Model {
  const next = structuredClone(m);
  for (const c of d.fix!.changes) {
    const list = next[c.family as Family];
    if (c.add) list.push(c.add as RawElement);
    const at = list.findIndex((x) => x.name === c.name);
    if (c.remove) list.splice(at, 1);
    else if (c.field) list[at]![c.field] = c.value as never;
  }
  return next;
}
/** A point on the axis of a joint, 50 mm along it. */
function along(m: Model, joint: RawElement): RawElement {
  const at = m.points.find((p) => p.name === [joint.at].flat()[0])!.at as number[] | undefined,
    axis = (joint.axis as number[] | undefined) ?? [0, 0, 1];
  return { name: 'Along', at: axis.map((a, k) => (at?.[k] ?? 0) + 0.05 * a) } as unknown as RawElement;
}
const found = (m: Model, code: string) => check(m).diagnoses.filter((d) => d.code === code);

describe.each<[string, () => Model, string, string]>([
  ['a parameter nothing uses', () => ({ ...sliderCrank(), parameters: e([{ name: 'spare', value: 1 }]) }), 'unused', 'spare'],
  [
    'a table nothing uses',
    () => ({
      ...sliderCrank(),
      parameters: [],
      tables: e([
        {
          name: 'idle',
          data: [
            [0, 0],
            [1, 1],
          ],
        },
      ]),
    }),
    'unused',
    'idle',
  ],
  [
    'a joint made twice',
    () => {
      const m = sliderCrank();
      return { ...m, joints: [...m.joints, { ...m.joints[1]!, name: 'Again' }] };
    },
    'joint-double',
    'Again',
  ],
  [
    'a second hinge on the axis of the first',
    () => {
      const m = sliderCrank(),
        hinge = m.joints.find((j) => j.kind === 'revolute')!;
      return { ...m, points: [...m.points, along(m, hinge)], joints: [...m.joints, { ...hinge, name: 'Beside', at: ['Along'] }] };
    },
    'joint-coaxial',
    'Beside',
  ],
  [
    'two start speeds for one joint',
    () => {
      const m = sliderCrank(),
        hinge = m.joints.find((j) => j.kind === 'revolute')!;
      return {
        ...m,
        drives: [],
        starts: e([
          { name: 'One', kind: 'start', joint: hinge.name, speed: 1, kept: 'strict' },
          { name: 'Two', kind: 'start', joint: hinge.name, freedom: 'rotation', speed: 2, kept: 'guess' },
        ]),
      };
    },
    'start-twice',
    'Two',
  ],
  [
    'gravity acting twice',
    () => {
      const m = sliderCrank();
      return { ...m, loads: [...m.loads, { ...m.loads[0]!, name: 'More' }] };
    },
    'gravity-twice',
    'More',
  ],
  [
    'a length that looks like millimetres',
    () => {
      const m = sliderCrank();
      return { ...m, points: [...m.points, { name: 'Far', at: [120, 0, 0] } as unknown as RawElement] };
    },
    'unit-slip',
    'Far',
  ],
  [
    'an angle that looks like degrees',
    () => {
      const m = sliderCrank();
      return { ...m, bodies: m.bodies.map((b) => (b.name === 'Rod' ? { ...b, rotation: [0, 0, 10] } : b)) };
    },
    'unit-slip',
    'Rod',
  ],
  [
    'a body tied to nothing',
    () => {
      const m = sliderCrank();
      return { ...m, bodies: [...m.bodies, { name: 'Loose', mass: 1, inertia: [1, 1, 1] } as unknown as RawElement] };
    },
    'body-loose',
    'Loose',
  ],
])('%s', (_what, make, code, name) => {
  it('is named, says why, and its fix removes it', () => {
    const m = make();
    const [d] = found(m, code);
    expect(d).toMatchObject({ element: { name } });
    expect(d!.why && d!.remedy).toBeTruthy();
    expect(found(fixed(m, d!), code).filter((x) => x.element?.name === name)).toEqual([]);
  });
});

it('leaves hinges on parallel axes, of other bodies, and the position beside the speed of one joint alone', () => {
  const m = sliderCrank(),
    hinge = m.joints.find((j) => j.kind === 'revolute')!,
    aside = along(m, hinge),
    away = (aside.at as number[]).map((x) => x + 0.01);
  expect(
    found(
      { ...m, points: [...m.points, { ...aside, at: away }], joints: [...m.joints, { ...hinge, name: 'Beside', at: ['Along'] }] },
      'joint-coaxial',
    ),
  ).toEqual([]);
  expect(found(m, 'joint-coaxial')).toEqual([]);
  const starts = e([
    { name: 'One', kind: 'start', joint: hinge.name, speed: 1, kept: 'guess' },
    { name: 'Two', kind: 'start', joint: hinge.name, position: 0.1, kept: 'guess' },
  ]);
  expect(found({ ...m, drives: [], starts }, 'start-twice')).toEqual([]);
});

it('tells of gravity that is missing or points up, and of sides drawn far apart', () => {
  const m = sliderCrank();
  expect(found({ ...m, loads: [] }, 'gravity-none').length).toBe(1);
  expect(found({ ...m, loads: e([{ name: 'g', kind: 'gravity', acceleration: [0, 0, 9.81] }]) }, 'gravity-up').length).toBe(1);
  const far = model('far', {
    points: e([{ name: 'A' }, { name: 'B', at: [1, 0, 0] }]),
    bodies: e([{ name: 'Bar', mass: 1, inertia: [1, 1, 1], origin: 'B' }]),
    joints: e([{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Bar'], at: ['A', 'B'] }]),
  });
  expect(found(far, 'joint-far')[0]!.message).toContain('1000 mm');
  expect(check(m).diagnoses.filter((d) => d.severity !== 'note' && d.code !== 'joint-redundant')).toEqual([]);
});

describe('loads that do nothing', () => {
  const between = { bodies: ['Ground', 'Slider'], at: ['Axle', 'Slide pin'] };
  const idle = (load: object) => {
    const m = sliderCrank();
    return check({ ...m, loads: [{ name: 'Load', ...load } as RawElement] }).diagnoses.filter((d) => d.code === 'load-idle');
  };
  it.each([
    [
      'a friction on a pin without a radius',
      { kind: 'joint-friction', joint: 'Bearing' },
      { radius: '5 mm' },
      'pin radius, collar radius, preload',
    ],
    ['a spring without stiffness', { kind: 'spring', ...between }, { damping: '1 N*s/m' }, 'stiffness, damping, preload, force curve'],
    ['a spring in a joint', { kind: 'joint-spring', joint: 'Bearing' }, { preload: '1 N*m' }, 'stiffness, damping, preload'],
    ['a drag without coefficients', { kind: 'drag', body: 'Slider', at: 'Slide pin' }, { quadratic: '1 N*s^2/m^2' }, 'linear, quadratic'],
  ])('%s is told of, and not once it has what it needs', (_, load, more, fields) => {
    const [found] = idle(load);
    expect(found).toMatchObject({ severity: 'warning', message: `It does nothing: ${fields} are zero or left out.` });
    expect(found!.fix!.changes).toEqual([{ family: 'loads', name: 'Load', field: 'off', value: true }]);
    expect(idle({ ...load, ...more })).toEqual([]);
    expect(idle({ ...load, off: true })).toEqual([]);
  });
  it('a friction on a slide rubs directly', () => expect(idle({ kind: 'joint-friction', joint: 'Slide' })).toEqual([]));
});
