/** The steps of the walk through a first machine. */
import type { Model } from '@vim-pivot/core/page';

interface Seen {
  model: Model;
  runs: readonly { model: Model }[];
}
interface Step {
  /** What is to be done. */
  text: string;
  /** What is to be written in the `/` line, where that is the way. */
  say?: string;
  why: string;
  done(s: Seen): boolean;
}

const has = (list: readonly { name: string }[], name: string) => list.some((e) => e.name.toLowerCase() === name.toLowerCase());
/** A first machine: a driven arm with a weight at its end. Each step is done on the real interface, and notices by itself that it is. */
export const STEPS: readonly Step[] = [
  {
    text: 'Press / and write, then Enter:',
    say: 'point A at 0, 0, 0',
    why: 'Points come first: everything else hangs on them.',
    done: ({ model }) => has(model.points, 'A'),
  },
  {
    text: 'Once more:',
    say: 'point B at 80 mm, 0, 0',
    why: 'Any unit may be written, and formulas too.',
    done: ({ model }) => has(model.points, 'B'),
  },
  {
    text: 'A bar between the two:',
    say: 'link Crank from A to B',
    why: 'It becomes a body with mass and inertia of steel.',
    done: ({ model }) => model.shapes.some((s) => s.kind === 'link'),
  },
  {
    text: 'A bearing at A:',
    say: 'revolute Axle between Frame and Crank at A about y',
    why: 'The chip above the scene now says Mobility 1: one degree of freedom.',
    done: ({ model }) => has(model.joints, 'Axle'),
  },
  { text: 'Press Run below.', why: 'Run early: under gravity alone the crank swings.', done: ({ runs }) => runs.length > 0 },
  {
    text: 'A motor:',
    say: 'drive Motor on Axle 60 rpm',
    why: 'The chip says which drive takes the freedom.',
    done: ({ model }) => has(model.drives, 'Motor'),
  },
  {
    text: 'Name a reading:',
    say: 'gauge torque of Motor',
    why: 'A gauge reads any run, also one that was made before.',
    done: ({ model }) => model.gauges.some((g) => g.kind === 'drive'),
  },
  {
    text: 'Press Run again.',
    why: 'The torque is drawn beside the machine; both move together.',
    done: ({ model, runs }) => runs.some((r) => has(r.model.drives, 'Motor')) || (has(model.drives, 'Motor') && runs.length > 1),
  },
  {
    text: 'Click point B in the Ledger (tab Points) and make its x 120 mm.',
    why: 'All that hangs on it follows at once. Ctrl+Z takes it back.',
    done: ({ model }) => String([model.points.find((p) => p.name === 'B')?.at].flat()[0]).replace(/\s/g, '') === '120mm',
  },
];
