'use client';
import { openHelp, walk } from '@/state/asking';
import { addProject, blank } from '@/state/document/document';
import { Button, Dialog } from '@/ui/dialog';

const KEYS: readonly (readonly [string, string])[] = [
  ['/', 'find anything, or say what to add'],
  ['Ctrl+Enter', 'run'],
  ['Space', 'play, pause'],
  ['Ctrl+Z, Ctrl+Y', 'undo, redo'],
  ['Esc', 'cancel the run; pick nothing'],
  ['Del', 'delete what is selected'],
  ['F2', 'rename (in the Ledger)'],
  ['F', 'show all (in the scene); with Shift: all of the motion'],
  ['Arrows', 'turn the view'],
  ['E', 'go through edges and faces of the picked body'],
  ['Alt+arrows, page keys', 'move the picked point'],
  ['Ctrl+C, Ctrl+V', 'copy and paste parts, or rows as cells'],
  ['Ctrl+D', 'fill down (in the Ledger)'],
  ['?', 'this page'],
];

/** One page of help. */
export function Help() {
  return (
    <Dialog open wide onClose={() => openHelp(false)} title="Help">
      <div className="grid grid-cols-2 gap-x-8 gap-y-3">
        <section>
          <h3 className="mb-1 font-semibold">Keys</h3>
          <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-0.5">
            {KEYS.map(([key, does]) => (
              <div key={key} className="contents">
                <dt className="font-mono text-xs">{key}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </section>
        <div className="grid content-start gap-3">
          <section>
            <h3 className="mb-1 font-semibold">Picking</h3>
            <p>
              Click a body, a joint, a point, or a row of the Ledger: it stands on the Card. <b>Ctrl-click picks a second thing</b>, and so
              does <b>Pick another</b> on the Card. What is picked stands there as chips, with everything that can be made of it: two bodies
              and a point make a joint, two points a link.
            </p>
          </section>
          <section>
            <h3 className="mb-1 font-semibold">Sketch</h3>
            <p>
              Press <b>Sketch</b> above the scene and draw as on paper: press and drag for a bar. An end on another bar, a point or a hole
              becomes a pin, on the hatched ground a bearing; a stroke along the ground or along a bar is a slide; from the middle of a bar
              to a further place it becomes a plate. Digits set length and angle. By keys: arrows, <b>Space</b> places, <b>N</b> goes to the
              next pin, <b>Enter</b> confirms, <b>G</b> puts a bearing at a free end.
            </p>
          </section>
          <section>
            <h3 className="mb-1 font-semibold">Formulas</h3>
            <p>
              Wherever a number stands a formula may stand: <code className="font-mono">2*arm + 10 mm</code>,{' '}
              <code className="font-mono">90 rpm * smoothstep(0 s, 0.4 s, t)</code>. <code className="font-mono">t</code> is time. Gauges
              stand in braces: <code className="font-mono">{'{Crank torque} * {Crank speed}'}</code>. Names, functions and units are
              completed as you type.
            </p>
          </section>
          <section>
            <h3 className="mb-1 font-semibold">Units</h3>
            <p>
              Any unit may be written: mm, m, inch, deg, rad, rpm, N, kN, lbf, N*m, kg, s, Hz, and products of them. A number beside which
              no unit is written takes the unit that is shown there. A unit binds tighter than a sign of multiplication:{' '}
              <code className="font-mono">1/2 mm</code> is one over two millimetres.
            </p>
          </section>
        </div>
      </div>
      <div className="mt-4 flex justify-end gap-2">
        <Button
          onClick={() => void addProject(blank('First machine')).then(() => walk(true))}
          title="On the real thing, in an empty project"
        >
          A first machine, step by step
        </Button>
        <Button primary onClick={() => openHelp(false)}>
          Close
        </Button>
      </div>
    </Dialog>
  );
}
