/** What it takes to know what moves a score, in times of a run. */
import { readFileSync } from 'node:fs';
import { type Model, type RawElement, runModel } from '../core/src';
import { readModel } from '../core/src/model/file';
import { mostTelling, numbersOf } from '../core/src/model/numbers';
import { type Way, sensitivities } from '../core/src/studies/sensitivity';

type Put = (what: string, ours: string, baseline?: string, ratio?: string, target?: string) => void;

const NUMBERS = 20;
const middle = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1]!;
const timed = (go: () => void, times: number): number =>
  middle(
    Array.from({ length: times }, () => {
      const from = performance.now();
      go();
      return performance.now() - from;
    }),
  );

const WAYS: readonly (readonly [Way, string, string])[] = [
  ['forward', 'going along with the run', 'at most 6 runs’ time'],
  ['backward', 'going back from the score', 'at most 4 runs’ time'],
];

export function gradient(put: Put): void {
  for (const [name, of] of [
    ['sorting-gate', 'peak'],
    ['sorting-gate', 'final'],
    ['hoist-hook', 'final'],
  ] as const) {
    const plain = readModel(readFileSync(`examples/${name}.pivot.json`, 'utf8')),
      gauge = plain.gauges[0]!.name,
      model = { ...plain, scores: [{ name: 'Score', gauge, of }] as RawElement[] };
    for (const [way, how, target] of WAYS) row(put, model, NUMBERS, way, `${of} of ${gauge}, ${how}`, target, 5);
    if (of === 'final') row(put, model, Infinity, 'backward', `${of} of ${gauge}, ${WAYS[1]![1]}`, 'at most 6 runs’ time for 500', 1);
  }
}

function row(put: Put, model: Model, most: number, way: Way, how: string, target: string, times: number): void {
  const numbers = mostTelling(
      numbersOf(model).filter((n) => n.against === 'itself' && !n.direction),
      most,
    ),
    run = timed(() => runModel(model).gauge(model.gauges[0]!.name), 5);
  let back = 0;
  const all = timed(() => {
    const steps = sensitivities(model, numbers, {}, [], way);
    for (let step = steps.next(); ; step = steps.next())
      if (step.done) {
        back = step.value.numbers.filter((x) => x.exactly === 'back').length;
        return;
      }
  }, times);
  const rest = way === 'backward' && back < numbers.length ? `, ${numbers.length - back} of them along` : '';
  put(
    `what ${numbers.length} numbers move in ${model.name}: ${how}${rest}`,
    `${all.toFixed(0)} ms`,
    `a run, and a score of it: ${run.toFixed(1)} ms`,
    `${(all / run).toFixed(1)} runs’ time, ${(all / run / numbers.length).toFixed(2)} a number`,
    target,
  );
}
