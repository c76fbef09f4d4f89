/** A machine moved by hand or looked at without a run: drawn by a body, or in an analysis. */
import { Breather } from './breath';
import { type Handlers, post } from './post';

const hold = () => import('../hold');
const analyses = () => import('@vim-pivot/core/analyses');
let asked = 0;

export const POSTURES: Handlers<'grab' | 'pull' | 'keep' | 'analyses' | 'explore' | 'leave-explore'> = {
  grab: async ({ id, model }) => {
    (await hold()).grab(model);
    post({ type: 'done', id });
  },
  pull: async ({ id, body, at, to }) => post({ type: 'pulled', id, posture: (await hold()).pullTo(body, at, to) }),
  keep: async ({ id }) => post({ type: 'kept', id, starts: (await hold()).leaders() }),
  analyses: async ({ id, model }) => post({ type: 'analyses', id, list: (await analyses()).declared(model) }),
  explore: async ({ id, model, what, given }) => {
    asked = id;
    const work = (await analyses()).analysed(what, model, given),
      breather = new Breather();
    for (let step = work.next(); ; step = work.next()) {
      if (asked !== id) return post({ type: 'done', id });
      if (step.done) return post({ type: 'explored', id, found: step.value });
      if (!breather.due) continue;
      post({ type: 'moving', id, part: step.value });
      await breather.giveWay();
    }
  },
  'leave-explore': ({ id }) => {
    asked = id;
    post({ type: 'done', id });
  },
};
