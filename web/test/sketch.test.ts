/** Strokes on the sheet and what they become. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Model, build, check, kitContent } from '@vim-pivot/core';
import { drawnLayout } from '../state/scene/place';
import { addBearing, planRail, planStroke } from '../state/scene/sketch/draw';
import { angleOf, setLength } from '../state/scene/sketch/lengths';
import { paperOf, restOn } from '../state/scene/sketch/paper';
import { type Spot, away, before, inSpace, meeting, onSheet, planeOf, planeOn } from '../state/scene/sketch/plane';

const STEEL = { name: 'Steel', density: '7850 kg/m^3' };
const empty = (): Model => kitContent('Drawn', { ground: 'Frame', materials: [STEEL] });
const HOW = { width: 0.02, parameters: false };
type Plane = ReturnType<typeof planeOf>;

class Pad {
  model = empty();
  constructor(
    readonly plane: Plane = planeOf('front', 'z'),
    readonly how = HOW,
  ) {}
  get live() {
    return build(this.model).resolution.live;
  }
  get paper() {
    return paperOf(this.model, this.layout, this.plane);
  }
  get layout() {
    return drawnLayout(this.model, this.live);
  }
  plan(...spots: Spot[]) {
    const { paper } = this;
    return planStroke(
      this.model,
      this.layout,
      paper,
      spots.map((p) => restOn(paper, p, 0.004, 0.01)),
      this.how,
    );
  }
  /** In millimetres. */
  draw(...mm: Spot[]) {
    const outcome = this.plan(...mm.map(([u, v]): Spot => [u / 1000, v / 1000]));
    if ('refused' in outcome) throw new Error(outcome.refused);
    const next = structuredClone(this.model),
      drawn = outcome.draw(next);
    this.model = next;
    return { ...drawn, ...outcome };
  }
  get checked() {
    const { diagnoses, mobility } = check(this.model);
    expect(diagnoses.filter((d) => d.severity === 'error').map((d) => d.message)).toEqual([]);
    return mobility!;
  }
  names(family: 'points' | 'bodies' | 'joints' | 'shapes') {
    return this.model[family].map((e) => e.name);
  }
}

const PLANES: [string, Plane][] = (['front', 'top', 'side'] as const).flatMap((v) =>
  (['x', 'y', 'z'] as const).map((up): [string, Plane] => [`${v}, ${up} up`, planeOf(v, up, 0.03)]),
);

describe('four strokes on paper', () => {
  it.each([...PLANES, ['a slanted face', planeOn([0.1, 0.2, 0.3], [1, 2, 2], 'z')] as [string, Plane]])(
    'a four-bar drawn in %s has one degree of freedom and its plane loop is right',
    (_, plane) => {
      const pad = new Pad({ ...plane, level: true });
      expect(pad.draw([0, 0], [60, 100])).toMatchObject({ body: 'Crank', free: ['Crank end'], adds: 1, words: 'Let go: a free end.' });
      expect(pad.checked.joints).toBe(1);
      expect(pad.draw([60, 100], [300, 160]).body).toBe('Coupler');
      expect(pad.checked.joints).toBe(2);
      expect(pad.draw([360, 0], [300, 160])).toMatchObject({ body: 'Rocker', words: 'Let go: a pin with Coupler.', adds: -1 });
      expect(pad.checked.joints).toBe(1);
      expect(pad.names('joints')).toEqual(['Frame to Crank', 'Crank to Coupler', 'Frame to Rocker', 'Coupler to Rocker']);
      expect(pad.names('points')).toEqual(['Bearing', 'Crank end', 'Coupler end', 'Bearing 2']);
      // every body and shape has a name of its own
      expect(new Set([...pad.names('bodies'), ...pad.names('shapes')]).size).toBe(6);
      // pins lie across the sheet: every bar is as thick as it is through it, and no thicker
      for (const shape of build(pad.model).shapes) {
        const depths: number[] = [],
          { positions } = shape.surface();
        for (let k = 0; k < positions.length; k += 3) depths.push(before(plane, [positions[k]!, positions[k + 1]!, positions[k + 2]!]));
        expect(Math.max(...depths)).toBeCloseTo(0.004, 6);
        expect(Math.min(...depths)).toBeCloseTo(-0.004, 6);
      }
    },
  );

  it('three corners make a plate, which carries two further bars to a six-bar with one degree of freedom', () => {
    const pad = new Pad();
    pad.draw([0, 0], [60, 100]);
    pad.draw([60, 100], [300, 160]);
    pad.draw([360, 0], [300, 160]);
    expect(pad.draw([180, 130], [200, 240])).toMatchObject({
      body: 'Coupler',
      free: ['Coupler corner'],
      words: 'Let go: Coupler becomes a plate.',
    });
    expect(pad.model.shapes.find((s) => s.body === 'Coupler')).toMatchObject({
      kind: 'plate',
      corners: ['Crank end', 'Coupler end', 'Coupler corner'],
    });
    expect(pad.checked.joints).toBe(1);
    expect(pad.draw([200, 240], [440, 220]).body).toBe('Coupler 2');
    pad.draw([480, 0], [440, 220]);
    expect(pad.checked.joints).toBe(1);
    expect(pad.checked.free).toBe(1);
  });
  it('a plate is drawn at once over several places', () => {
    const pad = new Pad();
    pad.draw([0, 0], [60, 100]);
    expect(pad.draw([60, 100], [300, 160], [160, 240])).toMatchObject({ body: 'Coupler', free: ['Coupler corner', 'Coupler corner 2'] });
    expect(pad.checked.joints).toBe(2);
  });
});

describe('slides', () => {
  it('a stroke along the ground is a slide: a rod to it makes a slider-crank', () => {
    const pad = new Pad();
    pad.draw([0, 0], [60, 100]);
    expect(pad.draw([260, 0], [340, 0])).toMatchObject({ body: 'Slider', words: 'Let go: a slide along the ground.', adds: 1 });
    expect(pad.draw([60, 100], [300, 0])).toMatchObject({ body: 'Rod', words: 'Let go: a pin with Slider.', adds: -1 });
    expect(pad.checked.joints).toBe(1);
  });
  it('a stroke along a bar that begins on a pin is a slide pinned there: a quick return', () => {
    const pad = new Pad();
    pad.draw([0, 200], [100, 200]);
    expect(pad.draw([0, 0], [200, 400]).body).toBe('Crank');
    // the first bar hangs on nothing yet: it gets its bearing from the ground
    const crank = pad.draw([100, 200], [120, 240]);
    expect(crank).toMatchObject({ words: 'Let go: a slide along Crank, pinned to Bar.', adds: -1 });
    const slide = pad.model.joints.find((j) => j.kind === 'prismatic')!;
    expect(slide).toMatchObject({ bodies: ['Crank', 'Slider'], at: ['Bar end'], axisIn: 'Crank', axis: [1, 0, 0] });
    expect(pad.checked.redundant).toBe(0);
  });
  it('a rail of the ground carries slides and bearings', () => {
    const pad = new Pad(),
      { paper } = pad;
    const rail = planRail(paper, restOn(paper, [0.1, 0.1], 0.004, 0.01), restOn(paper, [0.3, 0.2], 0.004, 0.01), HOW);
    if ('refused' in rail) throw new Error(rail.refused);
    rail.draw(pad.model);
    expect(pad.draw([140, 120], [180, 140])).toMatchObject({ body: 'Slider', words: 'Let go: a slide along the ground.' });
    const own = pad.model.joints[0]!;
    expect(own.bodies).toEqual(['Frame', 'Slider']);
    expect((own.axis as number[]).map((x) => Number(x))).toEqual([
      expect.closeTo(2 / Math.sqrt(5), 6),
      0,
      expect.closeTo(1 / Math.sqrt(5), 6),
    ]);
    expect(pad.draw([220, 160], [240, 300])).toMatchObject({ body: 'Crank', free: ['Crank end'] });
    expect(pad.checked.joints).toBe(2);
  });
});

describe('what cannot move is refused before it is drawn', () => {
  const refused = (o: ReturnType<Pad['plan']>) => ('refused' in o ? o.refused : '');
  it('a slip of the hand, a bar between two bearings, a bar with both ends on one body', () => {
    const pad = new Pad();
    pad.draw([0, 0], [60, 100]);
    expect(refused(pad.plan([0.1, 0.05], [0.1005, 0.05]))).toMatch(/short/);
    pad.draw([60, 100], [300, 160]);
    pad.draw([180, 130], [200, 240]);
    expect(refused(pad.plan([0.2, 0.24], [0.3, 0.16]))).toBe('Both ends are on Coupler: it could not move against it.');
    const { paper } = pad,
      rail = planRail(paper, restOn(paper, [0, 0.3], 0.004, 0.01), restOn(paper, [0.2, 0.3], 0.004, 0.01), HOW);
    if ('draw' in rail) rail.draw(pad.model);
    expect(refused(pad.plan([0.1, 0.3], [0, 0]))).toBe('Both ends are on the ground: it could not move.');
  });
});

describe('what an end comes to rest on', () => {
  const pad = new Pad();
  pad.draw([0, 0], [60, 100]);
  pad.draw([200, 300], [300, 300]);
  const rest = (u: number, v: number) => restOn(pad.paper, [u / 1000, v / 1000], 0.004, 0.01);
  it('pins first, then bars, then the ground; else the grid, in line with a pin where one is near', () => {
    expect(rest(2, 2)).toMatchObject({ on: 'point', point: 'Bearing', body: 'Frame', at: [0, 0] });
    expect(rest(61, 98)).toMatchObject({ on: 'point', point: 'Crank end', body: 'Crank' });
    expect(rest(251, 301)).toMatchObject({ on: 'line', body: 'Bar' });
    expect(rest(251, 301).at.map((x) => Number(x.toFixed(9)))).toEqual([0.25, 0.3]);
    expect(rest(123, 1)).toEqual({ on: 'ground', at: [0.12, 0] });
    expect(rest(123, 299).at.map((x) => Number(x.toFixed(9)))).toEqual([0.12, 0.3]);
    expect(rest(123, 299)).toMatchObject({ inLine: 'Bar start' });
    expect(rest(444, 333).at.map((x) => Number(x.toFixed(9)))).toEqual([0.44, 0.33]);
  });
});

it('an end on a hole is a pin fixed in its body, and a bearing more has a name of its own', () => {
  const pad = new Pad();
  pad.draw([0, 0], [60, 100]);
  const paper = paperOf(pad.model, pad.layout, pad.plane, [{ body: 'Crank', at: [0.1, 0.05] }]);
  const outcome = planStroke(
    pad.model,
    pad.layout,
    paper,
    [restOn(paper, [0.101, 0.05], 0.004, 0.01), restOn(paper, [0.3, 0.2], 0.004, 0.01)],
    HOW,
  );
  if ('refused' in outcome) throw new Error(outcome.refused);
  const { body } = outcome.draw(pad.model);
  expect(pad.model.points.find((p) => p.name === 'Crank pin')).toMatchObject({ body: 'Crank' });
  const at = pad.paper.anchors.find((a) => a.name === 'Crank pin')!.at;
  expect(away(at, [0.1, 0.05])).toBeLessThan(1e-6);
  expect(pad.model.joints.at(-1)).toMatchObject({ name: `Crank to ${body}`, at: ['Crank pin'] });
  addBearing(pad.model, pad.plane, 'Crank', 'Crank end');
  expect(pad.names('joints')).toEqual(['Frame to Crank', `Crank to ${body}`, 'Frame to Crank 2']);
  expect(pad.checked.joints).toBeGreaterThan(0);
});

describe('lengths', () => {
  const fourBar = (how = HOW, plane?: Plane) => {
    const pad = new Pad(plane, how);
    pad.draw([0, 0], [60, 100]);
    pad.draw([60, 100], [300, 160]);
    pad.draw([360, 0], [300, 160]);
    return pad;
  };
  const line = (pad: Pad, shape: string) => pad.paper.lines.find((l) => l.shape === shape)!;
  const length = (pad: Pad, shape: string) => away(line(pad, shape).a, line(pad, shape).b);
  it('of a bar with a free end: that end moves, at the angle typed', () => {
    const pad = new Pad();
    pad.draw([0, 0], [60, 100]);
    setLength(pad.model, pad.live, pad.paper, 'Crank bar', 0.12, Math.PI / 3);
    expect(length(pad, 'Crank bar')).toBeCloseTo(0.12, 7);
    expect(angleOf(line(pad, 'Crank bar'))).toBeCloseTo(Math.PI / 3, 5);
  });
  it('of a bar that meets another: both turn, the other keeps its own', () => {
    const pad = fourBar(),
      coupler = length(pad, 'Coupler bar');
    setLength(pad.model, pad.live, pad.paper, 'Rocker bar', 0.165);
    expect(length(pad, 'Rocker bar')).toBeCloseTo(0.165, 6);
    expect(length(pad, 'Coupler bar')).toBeCloseTo(coupler, 6);
    expect(pad.checked.joints).toBe(1);
    expect(() => setLength(pad.model, pad.live, pad.paper, 'Rocker bar', 0.9)).toThrow(/does not reach Coupler/);
  });
  it('as parameters: the loop closes by itself when one is changed', () => {
    const pad = fourBar({ ...HOW, parameters: true });
    expect(pad.model.parameters.map((p) => p.name)).toEqual(['crank_length', 'coupler_length', 'rocker_length']);
    expect(pad.checked.joints).toBe(1);
    setLength(pad.model, pad.live, pad.paper, 'Rocker bar', 0.2);
    expect(pad.model.parameters.at(-1)).toEqual({ name: 'rocker_length', value: '200 mm' });
    expect(pad.checked.joints).toBe(1);
  });
  /** How far joints stand apart as drawn: the farthest of the two points of each. */
  const gap = (pad: Pad) =>
    Math.max(
      ...pad.model.joints.map((j) => {
        const [p, q] = j.at as string[];
        return q === undefined ? 0 : away(onSheet(pad.plane, pad.layout.point(p!)), onSheet(pad.plane, pad.layout.point(q)));
      }),
    );
  it.each(['Rocker bar', 'Coupler bar', 'Crank bar'])('as parameters: the drawing stays closed when %s gets another length', (shape) => {
    for (const [plane, factor] of PLANES.flatMap(([, p]) => [0.93, 1.08].map((k) => [p, k] as const))) {
      const pad = fourBar({ ...HOW, parameters: true }, plane),
        before = new Map(pad.paper.lines.map((l) => [l.shape, length(pad, l.shape)]));
      expect(gap(pad)).toBeLessThan(1e-6);
      setLength(pad.model, pad.live, pad.paper, shape, factor * before.get(shape)!);
      expect(gap(pad)).toBeLessThan(1e-6);
      for (const [other, was] of before) expect(length(pad, other)).toBeCloseTo(other === shape ? factor * was : was, 6);
      expect(pad.checked.joints).toBe(1);
    }
  });
  it('as a parameter: a bar with a free end gets length and angle', () => {
    const pad = new Pad(planeOf('front', 'z'), { ...HOW, parameters: true });
    pad.draw([0, 0], [60, 100]);
    setLength(pad.model, pad.live, pad.paper, 'Crank bar', 0.12, Math.PI / 3);
    expect(pad.model.parameters[0]!.value).toBe('120 mm');
    expect(length(pad, 'Crank bar')).toBeCloseTo(0.12, 7);
    expect(angleOf(line(pad, 'Crank bar'))).toBeCloseTo(Math.PI / 3, 5);
  });
  it('two circles meet where they are the given lengths away, on the side they were', () => {
    const n = () => fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(n(), n(), n(), n(), n(), n(), (ax, ay, bx, by, px, py) => {
        const a: Spot = [ax, ay],
          b: Spot = [bx, by],
          p: Spot = [px, py];
        fc.pre(away(a, b) > 0.01 && Math.abs((bx - ax) * (py - ay) - (by - ay) * (px - ax)) > 1e-3);
        const met = meeting(a, away(a, p), b, away(b, p), p)!;
        expect(away(met, p)).toBeLessThan(1e-7);
      }),
    );
  });
});

it('whatever is drawn is a model without errors, with names of its own, in every plane', () => {
  const spot = fc.tuple(fc.integer({ min: -3, max: 6 }), fc.integer({ min: -1, max: 5 })).map(([u, v]): Spot => [0.06 * u, 0.06 * v]);
  fc.assert(
    fc.property(
      fc.constantFrom(...PLANES.map(([, p]) => p)),
      fc.boolean(),
      fc.array(fc.tuple(spot, spot), { minLength: 1, maxLength: 7 }),
      (plane, parameters, strokes) => {
        const pad = new Pad(plane, { ...HOW, parameters });
        for (const [from, to] of strokes) {
          const outcome = pad.plan(from, to);
          if ('refused' in outcome) continue;
          outcome.draw(pad.model);
          const { diagnoses } = check(pad.model);
          expect(diagnoses.filter((d) => d.severity === 'error').map((d) => d.message)).toEqual([]);
          const names = [...pad.names('bodies'), ...pad.names('shapes')];
          expect(new Set(names).size).toBe(names.length);
        }
      },
    ),
    { numRuns: 60 },
  );
});

it('the sheet and space are one and the same place', () => {
  for (const [, plane] of PLANES)
    expect(onSheet(plane, inSpace(plane, [0.3, -0.2])).map((x) => Number(x.toFixed(12)))).toEqual([0.3, -0.2]);
});
