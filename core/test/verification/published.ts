/** Problems published with their solutions or invariants. */
import { type Problem, constant, run } from './problem';
import { SQUEEZER_END, SQUEEZER_START, bricard, fourBars, squeezer } from '../benchmarks';

const loops = (n: number): Problem => ({
  title: `${n} coupled four-bar loop${n === 1 ? '' : 's'} through the singular position, 10 s`,
  source: 'González, Dopico, Lugrís, Cuadrado, Multibody Syst. Dyn. 16, 2006: energy is kept, all posts stay parallel',
  solve(accuracy) {
    const r = run(fourBars(n), accuracy);
    const first = r.gauge('angle 0'),
      last = r.gauge(`angle ${n}`);
    const swing = Math.max(...first.map(Math.abs));
    return [
      constant(r, 'energy', 'energy', 'J', 9.81 * 1.5 * n),
      {
        quantity: 'first and last post parallel',
        unit: 'rad',
        reference: first.at(-1)!,
        ours: last.at(-1)!,
        deviation: Math.max(...first.map((x, i) => Math.abs(x - last[i]!))),
        scale: swing,
      },
    ];
  },
});

export const PUBLISHED: Problem[] = [
  {
    title: 'Seven-body squeezer, 0.03 s',
    source: 'Hairer & Wanner II, sec. VII.7; Test Set for IVP Solvers (CWI), problem “andrews”',
    floor: 1e-10, // the published angles have so many digits
    solve(accuracy) {
      const r = run(squeezer(), accuracy);
      return r.mechanism.gauges.slice(0, 3).map((g, k) => ({
        quantity: ['β', 'Θ', 'γ'][k]!,
        unit: 'rad',
        reference: SQUEEZER_END[k]!,
        ours: SQUEEZER_START[k]! + r.gauge(g).at(-1)!,
        scale: 16,
      }));
    },
  },
  loops(1),
  loops(10),
  loops(40),
  {
    title: 'Bricard loop, 10 s',
    source: 'González et al., 2006: over-constrained, yet it moves; energy is kept',
    solve(accuracy) {
      return [constant(run(bricard(), accuracy), 'energy', 'energy', 'J', 5 * 9.81)];
    },
  },
];
