/** The walk through a first machine: every sentence it gives reads, and its steps are done in their order. */
import '../../core/src/elements';
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, complete } from '@vim-pivot/core/page';
import { STEPS } from '../state/adding/walk-steps';
import { readSentence } from '../state/adding/sentence';

describe('the walk', () => {
  it('goes from an empty machine to a driven one by what it says', () => {
    let model: Model = complete({
      format: 'vim-pivot-model',
      version: 1,
      name: 'First machine',
      ground: 'Frame',
      run: { until: '2 s', every: '1 ms', accuracy: 1e-5 },
      materials: [{ name: 'Steel', density: '7850 kg/m^3' }],
      loads: [{ name: 'Gravity', kind: 'gravity' }],
    });
    const runs: { model: Model }[] = [];
    STEPS.forEach((step, i) => {
      expect(step.done({ model, runs }), `step ${i + 1} is not done before it is done`).toBe(false);
      if (step.say) {
        const read = readSentence(step.say, model);
        expect(read, step.say).toBeDefined();
        const { kind, element, body } = read!.offer,
          name = element.name || kind.label;
        const added: RawElement = { ...element, name, ...(body ? { body: body.name } : {}) };
        model = { ...model, ...(body ? { bodies: [...model.bodies, body] } : {}), [kind.family]: [...model[kind.family], added] };
      } else if (/Run/.test(step.text)) runs.push({ model });
      else model = { ...model, points: model.points.map((p) => (p.name === 'B' ? { ...p, at: ['120 mm', 0, 0] } : p)) };
      expect(step.done({ model, runs }), `step ${i + 1} notices that it is done`).toBe(true);
    });
  });
});
