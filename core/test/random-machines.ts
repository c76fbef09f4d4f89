/** Machines made at random, of things that lie along the axes as often as not: chains of joints with loads and drives. */
import { type Model, type RawElement, kindsOf } from '../src';
import { ALONG } from './machines';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];

class Random {
  constructor(private seed: number) {}
  next(): number {
    return (this.seed = (this.seed * 1103515245 + 12345) % 2147483648) / 2147483648;
  }
  whole(n: number): number {
    return Math.floor(this.next() * n);
  }
  pick<T>(list: readonly T[]): T {
    return list[this.whole(list.length)]!;
  }
  /** Often nothing, or one. */
  length(): number {
    return this.pick([0, 0, 1, -1, 0.3, -0.2, 0.5]);
  }
  /** A formula of the time, without dimension. */
  formula(depth: number): string {
    if (depth === 0) return this.pick(['t/(1 s)', '1', '0.5', '(t/(1 s) + 0.3)']);
    const x = () => this.formula(depth - 1);
    return this.pick([
      () => `cos(${x()})`,
      () => `(-sin(${x()}))`,
      () => `(${x()} - ${x()})`,
      () => `(${x()}*${x()})`,
      () => `(-${x()})`,
      () => `exp(-${x()})`,
    ])();
  }
}

const DRIVEN = {
  revolute: { position: '0.2 rad', speed: '0.3 rad/s', acceleration: '0.5 rad/s^2' },
  prismatic: { position: '0.1 m', speed: '0.2 m/s', acceleration: '0.3 m/s^2' },
} as const;
type Single = keyof typeof DRIVEN;

/**
 * `driven`: all its joints turn or slide, and every one has a drive. `closed`: in a plane, its last body on the ground as well.
 */
export function randomMachine(seed: number, sort: 'open' | 'driven' | 'closed'): Model {
  const r = new Random(seed),
    [driven, closed] = [sort === 'driven', sort === 'closed'],
    n = (closed ? 3 : 2) + r.whole(3),
    planar = closed || r.next() < 0.4,
    names = Array.from({ length: n }, (_, i) => `Body ${i}`),
    place = () => [r.length(), r.length(), planar ? 0 : r.length()],
    kinds: readonly string[] =
      planar || driven ? ['revolute', 'prismatic'] : ['revolute', 'prismatic', 'spherical', 'cylindrical', 'universal', 'screw', 'planar'],
    joints = names.map((name, i) => {
      const kind = closed && i !== 1 ? 'revolute' : r.pick(kinds),
        { fields } = kindsOf('joints').find((k) => k.kind === kind)!,
        axis = planar ? r.pick(kind === 'revolute' ? ALONG.slice(4) : ALONG.slice(0, 4)) : r.pick(ALONG),
        bodies = [i === 0 ? 'Ground' : names[i - 1]!, name];
      return {
        name: `Joint ${i}`,
        kind,
        bodies: r.next() < 0.5 ? bodies : bodies.reverse(),
        at: [`P${i}`],
        ...('axis' in fields ? { axis } : {}),
        ...('cross' in fields ? { cross: axis[0] !== 0 ? [0, 1, 0] : [1, 0, 0] } : {}),
        ...('lead' in fields ? { lead: '30 mm' } : {}),
      };
    }),
    single = joints.filter((j) => j.kind in DRIVEN),
    moved = driven ? single : r.next() < 0.5 ? single.slice(0, 1) : [];
  return model(`Random machine ${seed}`, {
    run: { until: 0.3, every: 0.05, accuracy: 1e-9 },
    points: e([
      ...(closed ? [{ name: 'End', at: [1.3, r.pick([0, 0.4, -0.6]), 0] }] : []),
      ...names.map((_, i) => ({ name: `P${i}`, at: [r.length() + 0.3 * i, r.length(), planar ? 0 : r.length()] })),
      ...names.map((body, i) => ({ name: `Q${i}`, body, at: place() })),
    ]),
    bodies: e(
      names.map((name) => ({ name, mass: r.pick([1, 2, 0.5]), centre: place(), inertia: [r.pick([0.1, 0.2]), 0.15, r.pick([0.1, 0.2])] })),
    ),
    joints: e([
      ...joints,
      ...(closed
        ? [
            {
              name: 'Close',
              kind: 'revolute',
              bodies: r.pick([
                ['Ground', names.at(-1)],
                [names.at(-1), 'Ground'],
              ]),
              at: ['End'],
              axis: r.pick(ALONG.slice(4)),
            },
          ]
        : []),
    ]),
    loads: e([
      {
        name: 'Gravity',
        kind: 'gravity',
        acceleration: r.pick([
          [0, -9.81, 0],
          [0, 0, -9.81],
          [9.81, 0, 0],
        ]),
      },
      ...Array.from({ length: 3 }, (_, k) => loadOn(r, `Load ${k}`, names, single as { name: string; kind: Single }[])).flatMap(
        (x) => x ?? [],
      ),
    ]),
    drives: e(
      moved.map((j, i) => {
        const prescribes = r.pick(['position', 'speed', 'acceleration'] as const);
        return {
          name: `Drive ${i}`,
          joint: j.name,
          prescribes,
          value: `${r.next() < 0.5 ? '-' : ''}${DRIVEN[j.kind as Single][prescribes]}*${r.formula(2)}`,
        };
      }),
    ),
    gauges: e([
      ...joints.map((j) => ({ name: `${j.name} load`, kind: 'reaction', joint: j.name })),
      ...joints.map((j) => ({ name: `${j.name} moment`, kind: 'reaction', joint: j.name, of: 'moment' })),
      ...single.map((j) => ({ name: `${j.name} place`, kind: 'joint', joint: j.name })),
      ...moved.map((_, i) => ({ name: `Drive ${i} effort`, kind: 'drive', drive: `Drive ${i}` })),
      { name: 'Energy', kind: 'energy' },
    ]),
  });
}

function loadOn(r: Random, name: string, bodies: readonly string[], joints: readonly { name: string; kind: Single }[]): object | undefined {
  const [a, b] = [r.whole(bodies.length), r.whole(bodies.length)],
    between = { bodies: [bodies[a], bodies[b]], at: [`Q${a}`, `Q${b}`] },
    kind = r.pick([
      'joint-spring',
      'actuator',
      'joint-friction',
      'force',
      'torque',
      'drag',
      'spring',
      'bushing',
      'line-force',
      'beam',
      'cable',
    ]);
  if (kind.startsWith('joint-') || kind === 'actuator') {
    if (joints.length === 0) return undefined;
    const joint = r.pick(joints),
      turns = joint.kind === 'revolute';
    const fields: Record<string, object> = {
      'joint-spring': { stiffness: turns ? '20 N*m/rad' : '200 N/m', damping: turns ? '1 N*m*s/rad' : '3 N*s/m' },
      actuator: { effort: `${turns ? '3 N*m' : '5 N'}*${r.formula(2)}` },
      'joint-friction': { static: 0.1, sliding: 0.1, ...(turns ? { radius: '3 mm' } : {}) },
    };
    return { name, kind, joint: joint.name, ...fields[kind] };
  }
  const alone: Record<string, object> = {
    force: { body: bodies[a], at: `Q${a}`, direction: r.pick(ALONG), magnitude: `10 N*${r.formula(2)}` },
    torque: { body: bodies[a], direction: r.pick(ALONG), magnitude: `1 N*m*${r.formula(2)}` },
    drag: { body: bodies[a], at: `Q${a}`, linear: '2 N*s/m', quadratic: '3 N*s^2/m^2' },
  };
  if (alone[kind]) return { name, kind, ...alone[kind] };
  if (a === b) return undefined;
  const pair: Record<string, object> = {
    spring: { stiffness: '200 N/m', damping: '8 N*s/m' },
    bushing: { stiffness: ['10 N/m', '20 N/m', '30 N/m'], torsion: ['3 N*m/rad', '4 N*m/rad', '5 N*m/rad'] },
    'line-force': { magnitude: '20 N' },
    beam: { axial: '200 N', bendingY: '20 N*m^2', torsion: '10 N*m^2', damping: '10 ms', ...r.pick([{}, { mass: '0.5 kg/m' }]) },
    cable: { stiffness: '200 N/m', free: '0.1 m', damping: '3 N*s/m' },
  };
  return { name, kind, ...between, ...pair[kind] };
}
