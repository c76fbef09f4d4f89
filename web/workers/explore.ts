/** What a machine can do apart from running: free motions, balances, modes, ranges, each with postures to show. */
import {
  type Diagnosis,
  type Mechanism,
  type Model,
  Refusal,
  assemble,
  check,
  formatNumber,
  formatQuantity,
  freeMotions,
  D,
} from '@vim-pivot/core/engine';
import { equilibria, equilibrium, modes, range } from '@vim-pivot/core/analyses';
import type { Exploration, Explored } from './protocol';

export function explore(model: Model, what: Exploration, joint?: string): { items: Explored[]; diagnoses: Diagnosis[] } {
  const report = check(what === 'range' ? { ...model, drives: [] } : model);
  const errors = report.diagnoses.filter((d) => d.severity === 'error');
  const { mechanism: m } = report.built;
  if (errors.length > 0 || !m) throw new Refusal(errors);
  m.system.K.load(assemble(m).y);
  m.system.linearise();
  return FINDERS[what](m, joint);
}

const FINDERS: Readonly<Record<Exploration, (m: Mechanism, joint?: string) => { items: Explored[]; diagnoses: Diagnosis[] }>> = {
  motions: (m) => ({
    items: freeMotions(m).map((f) => ({ label: f.name, detail: '', swing: true, frames: played(m, f.shape) })),
    diagnoses: [],
  }),
  equilibria: (m) => {
    const { list, diagnoses } = equilibria(m);
    const items = list.map((e, i): Explored => ({
      label: `Equilibrium ${i + 1}: ${e.stable ? 'stable' : 'unstable'}`,
      detail: [
        ...placesAt(m, e.y),
        `stored ${formatQuantity(e.energy, D.energy, 'J', 4)}`,
        ...(e.neutral.length > 0 ? [`nothing pulls back along ${e.neutral.join(', ')}`] : []),
      ].join('; '),
      swing: false,
      frames: e.y.slice(0, 7 * m.bodies.length),
    }));
    return { items, diagnoses };
  },
  modes: (m) => {
    const diagnoses: Diagnosis[] = [];
    try {
      equilibrium(m);
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      m.system.K.load(assemble(m).y);
    }
    const found = modes(m);
    return {
      items: found.modes.map((x, i): Explored => ({
        label: `Mode ${i + 1}: ${formatNumber(x.frequency, 4)} Hz`,
        detail: [
          x.im === 0
            ? x.frequency === 0
              ? 'free, does not swing'
              : x.re < 0
                ? 'creeps back without swinging'
                : 'grows'
            : `damping ratio ${formatNumber(x.damping, 3)}`,
          `moves ${x.kinetic
            .filter((k) => k.share > 0.02)
            .slice(0, 3)
            .map((k) => `${k.body} ${Math.round(100 * k.share)} %`)
            .join(', ')}`,
          ...(x.elastic.some((k) => k.share > 0.02)
            ? [
                `stored in ${x.elastic
                  .filter((k) => k.share > 0.02)
                  .slice(0, 3)
                  .map((k) => `${k.load} ${Math.round(100 * k.share)} %`)
                  .join(', ')}`,
              ]
            : []),
        ].join('; '),
        swing: false,
        loop: true,
        frames: swung(m, x.shape.re, x.shape.im),
      })),
      diagnoses: [...diagnoses, ...found.diagnoses],
    };
  },
  range: (m, joint) => {
    const freedom = [...m.assembly.joint(joint ?? '').freedoms.values()][0];
    if (!freedom)
      throw new Refusal([
        {
          code: 'freedom-missing',
          severity: 'error',
          message: `“${joint}” has no coordinate that could be followed.`,
          element: { family: 'joints', name: joint ?? '' },
        },
      ]);
    const found = range(m, joint!, freedom);
    const dim = freedom.type === 'rotation' ? D.angle : D.length;
    return {
      items: [
        ['Lower end', found.lower],
        ['Upper end', found.upper],
      ].map((pair): Explored => {
        const [label, x] = pair as [string, typeof found.lower];
        return {
          label: `${label}: ${formatQuantity(x.at, dim, freedom.type === 'rotation' ? 'deg' : 'mm', 4)}`,
          detail: `${x.end}${x.binds ? `; there ${x.binds.name} takes over` : ''}`,
          swing: false,
          frames: x.posture,
        };
      }),
      diagnoses: [],
    };
  },
};

/** Joints that are told of a posture, at most. */
const TOLD = 3;
/** Where the joints that lead its freedoms stand at a state, in words. */
function placesAt(m: Mechanism, y: Float64Array): string[] {
  const { K } = m.system;
  K.load(y);
  m.system.linearise();
  return m.joints
    .flatMap((j) =>
      [...j.freedoms].map(([type, f]) => {
        const turns = type === 'rotation';
        return `${j.name} ${formatQuantity(f.value(K), turns ? D.angle : D.length, turns ? 'deg' : 'mm', 4)}`;
      }),
    )
    .slice(0, TOLD);
}

const FRAMES = 24;
/** How far what moves most goes, in parts of the machine's size or rad. */
const REACH = 0.35;

/** Postures along a free motion from one side to the other, the joints kept closed. */
function played(m: Mechanism, shape: Float64Array): Float64Array {
  const { system } = m;
  const { K } = system;
  const n = 7 * m.bodies.length;
  const home = new Float64Array(system.size);
  K.store(home);
  const step = REACH / FRAMES / largest(m, shape);
  const side = (sense: number): Float64Array[] => {
    K.load(home);
    const list: Float64Array[] = [];
    const way = shape.slice();
    for (let i = 0; i < FRAMES; i++) {
      K.displace(way, sense * step);
      system.linearise();
      if (system.projectPositions(0) > 1e-7) break;
      const y = new Float64Array(system.size);
      K.store(y);
      list.push(y.slice(0, n));
      // go on in the direction it has taken: the shape brought onto the constraints here
      system.linearise();
      for (let b = 0; b < system.bodies; b++)
        for (let k = 0; k < 3; k++) {
          K.v[3 * b + k] = way[6 * b + k]!;
          K.w[3 * b + k] = way[6 * b + 3 + k]!;
        }
      system.projectVelocities(0);
      for (let b = 0; b < system.bodies; b++)
        for (let k = 0; k < 3; k++) {
          way[6 * b + k] = K.v[3 * b + k]!;
          way[6 * b + 3 + k] = K.w[3 * b + k]!;
        }
    }
    return list;
  };
  const back = side(-1).reverse(),
    forth = side(1);
  K.load(home);
  return joined([...back, home.slice(0, n), ...forth], n);
}

/** Postures over one swing of a complex shape. */
function swung(m: Mechanism, re: Float64Array, im: Float64Array): Float64Array {
  const { system } = m;
  const { K } = system;
  const n = 7 * m.bodies.length;
  const home = new Float64Array(system.size);
  K.store(home);
  const size = (0.6 * REACH) / Math.max(largest(m, re), largest(m, im), 1e-12);
  const list = Array.from({ length: 2 * FRAMES }, (_, i) => {
    const a = (Math.PI * i) / FRAMES;
    K.load(home);
    K.displace(
      re.map((x, k) => x * Math.cos(a) - im[k]! * Math.sin(a)),
      size,
    );
    system.linearise();
    system.projectPositions(0);
    const y = new Float64Array(system.size);
    K.store(y);
    return y.slice(0, n);
  });
  K.load(home);
  return joined(list, n);
}

function largest(m: Mechanism, shape: Float64Array): number {
  let most = 1e-12;
  for (let i = 0; i < m.bodies.length; i++)
    for (let k = 0; k < 3; k++) most = Math.max(most, Math.abs(shape[6 * i + k]!) / m.size, Math.abs(shape[6 * i + 3 + k]!));
  return most;
}

function joined(list: readonly Float64Array[], n: number): Float64Array {
  const out = new Float64Array(n * list.length);
  list.forEach((y, i) => out.set(y, n * i));
  return out;
}
