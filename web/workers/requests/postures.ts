/** A machine moved by hand or looked at without a run: drawn by a body, free motions, equilibria, modes, ranges. */
import { type Handlers, post } from './post';

const hold = () => import('../hold');

export const POSTURES: Handlers<'grab' | 'pull' | 'keep' | 'explore'> = {
  grab: async ({ id, model }) => {
    (await hold()).grab(model);
    post({ type: 'done', id });
  },
  pull: async ({ id, body, at, to }) => post({ type: 'pulled', id, posture: (await hold()).pullTo(body, at, to) }),
  keep: async ({ id }) => post({ type: 'kept', id, starts: (await hold()).leaders() }),
  explore: async ({ id, model, what, joint }) =>
    post({ type: 'explored', id, ...(await import('../explore')).explore(model, what, joint) }),
};
