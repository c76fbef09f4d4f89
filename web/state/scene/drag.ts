/** Dragging the machine in its worker; comes with the first drag. */
import { exploreWorker } from '../../workers/client';
import { useDocument } from '../document/document';
import { springBack, useDrag } from './motion';
import { startWith } from './start-posture';

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

/** Makes the dragged posture the one the machine starts in. */
export async function keepPosture(): Promise<void> {
  const { starts } = await exploreWorker().ask({ type: 'keep' }, 'kept');
  springBack();
  startWith('Keep the posture', starts);
}
