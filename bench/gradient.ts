/** What it takes to know what moves a score, in times of a run. */
import { readFileSync } from 'node:fs';
import { type Model, type RawElement, runModel } from '../core/src';
import { readModel } from '../core/src/model/file';
import { mostTelling, numbersOf } from '../core/src/model/numbers';
import { type Way, sensitivities } from '../core/src/studies/sensitivity';
import { fourBars } from '../core/test/benchmarks';

type Put = (what: string, ours: string, baseline?: string, ratio?: string, target?: string) => void;

const NUMBERS = 20;
const MANY = 500;
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
  for (const name of ['sorting-gate', 'hoist-hook']) {
    const plain = readModel(readFileSync(`examples/${name}.pivot.json`, 'utf8'));
    for (const of of ['peak', 'final'])
      for (const [way, how, target] of WAYS)
        row(
          put,
          { ...plain, scores: [{ name: 'Score', gauge: plain.gauges[0]!.name, of }] as RawElement[] },
          NUMBERS,
          way,
          `${of} of ${plain.gauges[0]!.name}, ${how}`,
          target,
          5,
        );
  }
  const loops = fourBars(24),
    model = {
      ...loops,
      run: { ...loops.run, until: 5 },
      scores: [{ name: 'Score', gauge: loops.gauges[0]!.name, of: 'final' }] as RawElement[],
    };
  row(put, model, MANY, 'backward', `final of ${loops.gauges[0]!.name}, going back from the score`, 'at most 6 runs’ time', 1);
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
        back = step.value.numbers.filter((x) => x.back).length;
        return;
      }
  }, times);
  put(
    `what ${numbers.length} numbers move in ${model.name}: ${how}${way === 'backward' && back < numbers.length ? `, ${numbers.length - back} of them along` : ''}`,
    `${all.toFixed(0)} ms`,
    `a run, and a score of it: ${run.toFixed(1)} ms`,
    `${(all / run).toFixed(1)} runs’ time, ${(all / run / numbers.length).toFixed(2)} a number`,
    target,
  );
}
