/** Dragging the machine in its worker; comes with the first drag. */
import { exploreWorker } from '../../workers/client';
import { edit, useDocument } from '../document/document';
import { freeName } from '../document/elements';
import { springBack, useDrag } from './motion';

let pulling = false;
let next: { body: number; at: [number, number, number]; to: [number, number, number] } | undefined;
let grabbed: Promise<unknown> | undefined;

export function grab(): void {
  const { model } = useDocument.getState();
  if (!model) return;
  if (useDrag.getState().posture) return; // goes on from where it stands
  grabbed = exploreWorker()
    .ask({ type: 'grab', model }, 'done')
    .catch(() => (grabbed = undefined));
}

/** Draws a place of a body towards a target; while the engine is at it only the last target counts. */
export function pullTo(target: NonNullable<typeof next>): void {
  next = target;
  if (pulling) return;
  pulling = true;
  void (async () => {
    await grabbed;
    while (next && grabbed) {
      const now = next;
      next = undefined;
      const { posture } = await exploreWorker().ask({ type: 'pull', ...now }, 'pulled');
      useDrag.setState({ posture, moved: true });
    }
    pulling = false;
  })();
}

/** Makes the dragged posture the one the machine starts in: start values of the joints that lead its motion, as one undo step. */
export async function keepPosture(): Promise<void> {
  const { starts } = await exploreWorker().ask({ type: 'keep' }, 'kept');
  springBack();
  edit('Keep the posture', (m) => {
    for (const s of starts) {
      const known = m.starts.find(
        (x) => x.joint === s.joint && (x.freedom ?? 'first') !== (s.freedom === 'rotation' ? 'translation' : 'rotation'),
      );
      const position = Number(s.position.toPrecision(12));
      if (known) known.position = position;
      else m.starts.push({ name: freeName('starts', `${s.joint} start`, m), joint: s.joint, freedom: s.freedom, position });
    }
  });
}
