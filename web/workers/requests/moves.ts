/** What moves the scores of a run. */
import { Breather } from './breath';
import { type Handlers, post } from './post';

let asked = 0;

export const MOVES: Handlers<'moves' | 'leave-moves'> = {
  moves: async ({ id, model, most }) => {
    asked = id;
    const { mostTelling, numbersOf, sensitivities } = await import('@vim-pivot/core/sensitivity'),
      all = numbersOf(model),
      steps = sensitivities(model, mostTelling(all, most)),
      breather = new Breather();
    for (let step = steps.next(); ; step = steps.next()) {
      if (asked !== id) return post({ type: 'done', id });
      if (step.done) {
        const { scores, numbers } = step.value;
        return post({ type: 'moves', id, count: all.length, scores, numbers });
      }
      if (!breather.due) continue;
      post({ type: 'moving', id, part: step.value.part });
      await breather.giveWay();
    }
  },
  'leave-moves': ({ id }) => {
    asked = id;
    post({ type: 'done', id });
  },
};
