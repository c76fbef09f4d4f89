/** The sorting gate as a made-up CAD assembly: plates with holes where its pins are. Usage: npx tsx examples/tools/sorting-gate-step.ts */
import { readFileSync, writeFileSync } from 'node:fs';
import { assemble, build } from '../../core/src';
import { readModel } from '../../core/src/model/file';
import { placeAt } from '../../core/src/equations/forces';
import { type Plate, type Side, writeStep } from './step';

type P2 = [number, number];
const here = new URL('../', import.meta.url).pathname;
const { mechanism } = build(readModel(readFileSync(`${here}sorting-gate.pivot.json`, 'utf8')));
mechanism!.system.K.load(assemble(mechanism!).y);
/** Where a pin is, mm in x and z. */
const pin = (name: string): P2 => {
  const { sides } = mechanism!.joints.find((j) => j.name === name)!;
  const at = [0, 2].map((k) => 1000 * placeAt(mechanism!.system.K, sides.b, sides.sb, k));
  return [at[0]!, at[1]!];
};

const HOLE = 4;
/** A bar with round ends. */
function bar(name: string, colour: Plate['colour'], [a, b]: [P2, P2], radius: number, layer: number): Plate {
  const l = Math.hypot(b[0] - a[0], b[1] - a[1]),
    u: P2 = [(b[0] - a[0]) / l, (b[1] - a[1]) / l],
    n: P2 = [u[1], -u[0]];
  const at = (p: P2, s: number): P2 => [p[0] + s * radius * n[0], p[1] + s * radius * n[1]];
  const sides: Side[] = [{ to: at(b, 1) }, { to: at(b, -1), centre: b }, { to: at(a, -1) }, { to: at(a, 1), centre: a }];
  return {
    name,
    colour,
    start: at(a, 1),
    sides,
    holes: [a, b].map((p) => ({ at: p, radius: HOLE })),
    from: 10 * layer,
    to: 10 * layer + 8,
  };
}
/** A plate with straight sides. */
function sheet(name: string, colour: Plate['colour'], corners: P2[], holes: P2[], from: number, to: number): Plate {
  return {
    name,
    colour,
    start: corners[0]!,
    sides: corners.map((_, i) => ({ to: corners[(i + 1) % corners.length]! })),
    holes: holes.map((at) => ({ at, radius: HOLE })),
    from,
    to,
  };
}

const [motor, crank, head, foot, tip, rod] = [
  'Motor pin',
  'Crank to coupler',
  'Coupler to rocker',
  'Rocker pin',
  'Yoke to push rod',
  'Push rod to pusher',
].map(pin) as [P2, P2, P2, P2, P2, P2];
const around = (p: P2, r: number): P2[] => [
  [p[0] - r, p[1] - r],
  [p[0] + r, p[1] - r],
  [p[0] + r, p[1] + r],
  [p[0] - r, p[1] + r],
];
/** Convex hull (Andrew's monotone chain), counter-clockwise. */
function hull(points: P2[]): P2[] {
  const s = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const turn = (o: P2, a: P2, b: P2) => (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]);
  const half = (list: P2[]) =>
    list.reduce<P2[]>((h, p) => {
      while (h.length >= 2 && turn(h.at(-2)!, h.at(-1)!, p) <= 1e-9) h.pop();
      return [...h, p];
    }, []);
  return [...half(s).slice(0, -1), ...half([...s].reverse()).slice(0, -1)];
}

const plates: Plate[] = [
  sheet(
    'Frame',
    [0.66, 0.64, 0.6],
    hull([...around(motor, 18), ...around(foot, 18), [motor[0] - 30, 0], [rod[0] + 140, 0], [rod[0] + 140, 30]]),
    [motor, foot],
    0,
    8,
  ),
  bar('Crank', [0.71, 0.42, 0.29], [motor, crank], 12, 1),
  bar('Coupler', [0.44, 0.54, 0.31], [crank, head], 11, 2),
  sheet(
    'Rocker with yoke',
    [0.36, 0.48, 0.58],
    hull([...around(foot, 11), ...around(head, 11), ...around(tip, 11)]),
    [foot, head, tip],
    10,
    18,
  ),
  bar('Push rod', [0.52, 0.38, 0.55], [tip, rod], 9, 2),
  sheet(
    'Pusher',
    [0.29, 0.58, 0.55],
    [
      [rod[0] - 20, rod[1] - 20],
      [rod[0] + 40, rod[1] - 20],
      [rod[0] + 40, rod[1] + 20],
      [rod[0] - 20, rod[1] + 20],
    ],
    [rod],
    10,
    18,
  ),
];
writeFileSync(`${here}sorting-gate.step`, writeStep('Sorting gate', plates));
