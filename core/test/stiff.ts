/** Stiff machines: a chain of bushings, and a slider-crank whose pins are stiff bushings. */
import type { Model, RawElement } from '../src';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
const six = (x: number, unit: string) => [x, x, x].map((v) => `${v} ${unit}`);

/** Links one after the other, each on the one before by a bushing of 1e9 N/m, held out level and let go. */
export function bushings(n: number, k = 1e9): Model {
  const all = Array.from({ length: n }, (_, i) => i);
  return model(`${n} bushings`, {
    run: { until: 1, every: 0.01 },
    points: e([
      { name: 'O' },
      ...all.flatMap((i) => [
        { name: `C${i}`, at: [0.1 * i + 0.05, 0, 0] },
        { name: `A${i}`, at: [0.1 * i, 0, 0] },
      ]),
    ]),
    bodies: e(all.map((i) => ({ name: `Link ${i}`, mass: 0.5, inertia: [1e-3, 2e-3, 2e-3], origin: `C${i}` }))),
    loads: e([
      ...all.map((i) => ({
        ...{ name: `B${i}`, kind: 'bushing', bodies: [i ? `Link ${i - 1}` : 'Ground', `Link ${i}`], at: [`A${i}`, `A${i}`] },
        ...{ stiffness: six(k, 'N/m'), torsion: six(k / 1000, 'N*m/rad') },
        ...{ damping: six(k * 1e-4, 'N*s/m'), torsionDamping: six(k * 1e-7, 'N*m*s/rad') },
      })),
      { name: 'Gravity', kind: 'gravity', acceleration: [0, 0, -9.81] },
    ]),
  });
}

/** Three bodies in a plane on pins of 1e8 N/m, let go from the level. */
export function stiffSliderCrank(k = 1e8, c = 2e3): Model {
  const [r, l] = [0.05, 0.2],
    pin = (name: string, a: string, b: string, ...at: string[]) => ({
      ...{ name, kind: 'bushing', bodies: [a, b], at, stiffness: [`${k} N/m`, `${k} N/m`, '0 N/m'], torsion: six(0, 'N*m/rad') },
      damping: [`${c} N*s/m`, `${c} N*s/m`, '0 N*s/m'],
    });
  return model('Stiff slider-crank', {
    run: { until: 1, every: 0.01 },
    points: e([
      { name: 'Axle' },
      { name: 'Crank root', body: 'Crank', at: [0, 0, 0] },
      { name: 'Crank pin', body: 'Crank', at: [r, 0, 0] },
      { name: 'Rod root', body: 'Rod', at: [0, 0, 0] },
      { name: 'Rod end', body: 'Rod', at: [l, 0, 0] },
      { name: 'Slide pin', body: 'Slider', at: [0, 0, 0] },
      { name: 'Far', at: [r + l, 0, 0] },
      { name: 'Elbow', at: [r, 0, 0] },
    ]),
    bodies: e([
      { name: 'Crank', mass: 1.2, centre: [r / 2, 0, 0], inertia: [1e-4, 8e-4, 9e-4] },
      { name: 'Rod', origin: 'Elbow', mass: 0.8, centre: [0.4 * l, 0, 0], inertia: [1e-4, 3e-3, 3e-3] },
      { name: 'Slider', mass: 1.5, inertia: [1e-3, 1e-3, 1e-3], origin: 'Far' },
    ]),
    joints: e([
      { name: 'Flat crank', kind: 'planar', bodies: ['Ground', 'Crank'], at: ['Axle'], axis: [0, 0, 1] },
      { name: 'Flat rod', kind: 'planar', bodies: ['Ground', 'Rod'], at: ['Elbow'], axis: [0, 0, 1] },
      { name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Slider'], at: ['Far'], axis: [1, 0, 0] },
    ]),
    loads: e([
      pin('Bearing', 'Ground', 'Crank', 'Axle', 'Crank root'),
      pin('Pin', 'Crank', 'Rod', 'Crank pin', 'Rod root'),
      pin('Wrist', 'Rod', 'Slider', 'Rod end', 'Slide pin'),
      { name: 'Gravity', kind: 'gravity', acceleration: [0, -9.81, 0] },
    ]),
    gauges: e([{ name: 'Angle', kind: 'angle', bodies: ['Ground', 'Crank'] }]),
  });
}

/** A blade in so many pieces on a hub that is driven, along x. @param node what a body between them has of its own @param beam what each piece is */
export function onHub(
  {
    pieces,
    length,
    hub = {},
    node,
    drive,
    beam,
  }: { pieces: number; length: number; hub?: object; node: (x: number) => object; drive: object; beam: object },
  more: Partial<Model>,
): Model {
  const h = length / pieces,
    all = Array.from({ length: pieces }, (_, i) => i);
  return model('Blade', {
    points: e([
      { name: 'O' },
      { name: 'Root', body: 'Hub' },
      ...all.flatMap((i) => [
        { name: `Q${i}`, at: [(i + 1) * h, 0, 0] },
        { name: `P${i}`, body: `N${i}` },
      ]),
    ]),
    bodies: e([
      { name: 'Hub', mass: 1, inertia: [1, 1, 1], ...hub },
      ...all.map((i) => ({ name: `N${i}`, origin: `Q${i}`, ...node((i + 1) * h) })),
    ]),
    joints: e([{ name: 'Axle', kind: 'revolute', bodies: ['Ground', 'Hub'], at: ['O'] }]),
    drives: e([{ name: 'Motor', joint: 'Axle', ...drive }]),
    loads: e(
      all.map((i) => ({
        ...{ name: `B${i}`, kind: 'beam', bodies: [i ? `N${i - 1}` : 'Hub', `N${i}`], at: [i ? `P${i - 1}` : 'Root', `P${i}`] },
        ...{ damping: '1 ms', ...beam },
      })),
    ),
    ...more,
  });
}

/** A blade of 16 pieces on a hub that is spun up to 4 rad/s within 15 s, and turns on. */
export function blade(n = 16): Model {
  const [length, mass] = [8, (1.2 * 8) / n];
  return onHub(
    {
      ...{ pieces: n, length, node: () => ({ mass, inertia: [1e-4, 1e-3, 1e-3] }) },
      ...{ drive: { value: '4 rad/s * smoothstep(0 s, 15 s, t)' }, beam: { axial: 5.1e6, bendingY: 574, torsion: 4000 } },
    },
    {
      run: { until: 20, every: 0.05 } as never,
      gauges: e([{ name: 'Reach', kind: 'distance', bodies: ['Hub', `N${n - 1}`], at: ['Root', `P${n - 1}`] }]),
    },
  );
}
