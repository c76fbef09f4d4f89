/** What stiff and slender machines take: implicit steps, and modes. */
import { type Model, assemble, build, check, runModel } from '../core/src';
import { readFileSync } from 'node:fs';
import { equilibrium, linearSystem, modes } from '../core/src/analyses';
import { readModel } from '../core/src/model/file';
import { analyse } from '../core/src/solve/run';
import { BAR, bar } from '../core/test/beams';
import { SLENDER, slender } from '../core/test/slender';
import { blade, bushings, stiffSliderCrank } from '../core/test/stiff';
import { inPython } from './baselines';

type Put = (what: string, ours: string, baseline?: string, ratio?: string, target?: string) => void;

function timed(model: Model, asked: object): { ms: number; evaluations: number; implicit: number; steps: number } {
  const { mechanism } = check(model).built,
    from = performance.now();
  for (const e of analyse(mechanism!, { ...mechanism!.resolution.run, ...asked }))
    if (e.type === 'end') {
      if (e.status !== 'done') throw new Error(`${model.name}: ${JSON.stringify(e.diagnoses)}`);
      const { evaluations, implicit, steps } = e.statistics;
      return { ms: performance.now() - from, evaluations, implicit, steps };
    }
  throw new Error(`${model.name} did not end`);
}

export function stiff(put: Put): void {
  const few = timed(bushings(50), {}),
    many = timed(bushings(500), {});
  put(
    'chain of 50 bushings of 1e9 N/m, 1 s',
    `${(few.ms / 1000).toFixed(1)} s`,
    '',
    `${(few.ms / few.steps).toFixed(1)} ms a step`,
    `${few.implicit} implicit steps`,
  );
  put(
    'the same of 500',
    `${(many.ms / 1000).toFixed(1)} s`,
    '',
    `${(many.ms / many.steps / (few.ms / few.steps)).toFixed(1)} times as much a step as of 50`,
    'at most 10 s, and ten times',
  );

  const slider = stiffSliderCrank(),
    end = Math.abs(runModel(slider).gauge('Angle').at(-1)!),
    all = Array.from({ length: 9 }, () => timed(slider, {}).ms).sort((a, b) => a - b),
    ours = all[4]!,
    python = inPython('stiff_slider_crank', 1e-6);
  if (python && Math.abs(Math.abs(python.end) - end) > 1e-5) throw new Error(`stiff slider-crank: ${end}, and the baseline ${python.end}`);
  put(
    'slider-crank on pins of 1e8 N/m, 1 s',
    `${ours.toFixed(0)} ms`,
    python ? `SciPy’s Radau, equations by hand: ${(python.ns / 1e6).toFixed(0)} ms` : '',
    python ? `${(python.ns / 1e6 / ours).toPrecision(3)} times faster than it` : '',
    'at least 5 times faster; both accurate to 2e-7',
  );

  const spun = timed(blade(), {}),
    // by explicit steps it takes minutes: of a tenth of it
    brute = timed(blade(), { until: 2, method: 'explicit' });
  put(
    'blade of 16 pieces spun up, 20 s',
    `${(spun.ms / 1000).toFixed(1)} s, ${spun.evaluations} evaluations`,
    `explicit steps, a tenth of it: ${(brute.ms / 1000).toFixed(1)} s, ${brute.evaluations}`,
    `${((10 * brute.evaluations) / spun.evaluations).toFixed(0)} times fewer evaluations, ${((10 * brute.ms) / spun.ms).toFixed(0)} times faster`,
    'at least 20 times fewer, 10 times faster',
  );

  const m = build(bar({ ...BAR, pieces: 300, gravity: 9.81 })).mechanism!;
  m.system.K.load(assemble(m).y);
  let from = performance.now();
  equilibrium(m);
  put('equilibrium of a bar of 300 pieces', `${(performance.now() - from).toFixed(0)} ms`);
  from = performance.now();
  const found = modes(m);
  put(`its ${found.modes.length} slowest modes of 1,800`, `${((performance.now() - from) / 1000).toFixed(1)} s`, '', '', 'at most 2 s');

  slenderBar(put);

  const gate = build(readModel(readFileSync('examples/sorting-gate.pivot.json', 'utf8'))).mechanism!,
    read = ['Pusher travel', 'Pusher speed', 'Crank angle', 'Crank torque', 'Rocker pin load'];
  gate.system.K.load(assemble(gate).y);
  const linear = Array.from({ length: 25 }, () => {
    from = performance.now();
    linearSystem(gate, 0, ['Motor'], read);
    return performance.now() - from;
  });
  put(
    'linear system of the sorting gate, motor to five gauges',
    `${linear
      .slice(10)
      .sort((a, b) => a - b)[7]!
      .toFixed(1)} ms`,
    '',
    '',
    'at most 5 ms',
  );
}

/** The third bending frequency of a cantilever, by few beams with mass and by many lumps. */
function slenderBar(put: Put): void {
  const exact = (7.854757438237613 ** 2 * Math.sqrt(SLENDER.EI / SLENDER.mass)) / (2 * Math.PI * SLENDER.length ** 2),
    third = (of: Model): { ms: number; off: number } => {
      const { mechanism: m } = build(of);
      m!.system.K.load(assemble(m!).y);
      const times = Array.from({ length: 7 }, () => {
          const from = performance.now();
          modes(m!);
          return performance.now() - from;
        }).sort((x, y) => x - y),
        near = modes(m!).modes.reduce((best, x) => Math.min(best, Math.abs(x.frequency / exact - 1)), Infinity);
      return { ms: times[3]!, off: near };
    },
    { length, EI, GJ } = SLENDER,
    EA = 4e9,
    beams = third(slender({ ...SLENDER, EA })),
    lumps = third(bar({ pieces: 40, length, mass: SLENDER.mass * length, EA, EIy: EI, EIz: EI, GJ, radius: 1e-3, clamped: true }));
  put(
    'third bending frequency of a cantilever of four beams with mass',
    `off by ${beams.off.toExponential(1)}, in ${beams.ms.toFixed(0)} ms`,
    `40 lumps on beams without: off by ${lumps.off.toExponential(1)}, in ${lumps.ms.toFixed(0)} ms`,
    `${(lumps.ms / beams.ms).toPrecision(2)} times faster`,
    'four pieces to 1e-3',
  );
}
