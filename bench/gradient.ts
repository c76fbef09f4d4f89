/** What it takes to know what moves a score, in times of a run. */
import { readFileSync } from 'node:fs';
import { type RawElement, runModel } from '../core/src';
import { readModel } from '../core/src/model/file';
import { mostTelling, numbersOf } from '../core/src/model/numbers';
import { sensitivities } from '../core/src/studies/sensitivity';

type Put = (what: string, ours: string, baseline?: string, ratio?: string, target?: string) => void;

const NUMBERS = 20;
const middle = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1]!;

export function gradient(put: Put): void {
  for (const name of ['sorting-gate', 'hoist-hook']) {
    const plain = readModel(readFileSync(`examples/${name}.pivot.json`, 'utf8')),
      gauge = plain.gauges[0]!.name,
      model = { ...plain, scores: [{ name: 'Peak', gauge, of: 'peak' }] as RawElement[] },
      numbers = mostTelling(
        numbersOf(model).filter((n) => n.against === 'itself' && !n.direction),
        NUMBERS,
      ),
      timed = (go: () => void) =>
        middle(
          Array.from({ length: 5 }, () => {
            const from = performance.now();
            go();
            return performance.now() - from;
          }),
        ),
      run = timed(() => runModel(model).gauge(gauge)),
      all = timed(() => {
        const steps = sensitivities(model, numbers);
        for (let step = steps.next(); ; step = steps.next()) if (step.done) return;
      });
    put(
      `what ${numbers.length} numbers move in ${plain.name}, by variational equations`,
      `${all.toFixed(0)} ms`,
      `a run, and a score of it: ${run.toFixed(1)} ms`,
      `${(all / run).toFixed(1)} runs’ time, ${(all / run / numbers.length).toFixed(2)} a number`,
      'at most 6 runs’ time',
    );
  }
}
