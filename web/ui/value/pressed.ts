/** A number that is pressed: moved sideways it changes, let go where it was it is edited. */

/** Way of the hand from which on it drags, px. */
const DRAGS = 4;

interface Hand {
  set(text: string): void;
  cancel(): void;
}

/** @param text of the number and its unit @param take begins the change, once the hand drags */
export function pressed(e: React.PointerEvent<HTMLInputElement>, text: string, take: () => Hand): void {
  const input = e.currentTarget;
  if (e.button !== 0 || e.pointerType === 'touch' || document.activeElement === input) return;
  const from = e.clientX;
  let drag: ((dx: number, fine: boolean) => void) | undefined, hand: Hand | undefined;
  const move = (m: PointerEvent) => {
    if (!hand && Math.abs(m.clientX - from) > DRAGS) {
      hand = take();
      document.body.style.cursor = 'ew-resize';
      void import('./dragged').then(({ dragged }) => (drag = dragged(text, (t) => hand!.set(t))));
    }
    drag?.(m.clientX - from, m.shiftKey);
  };
  const key = (k: KeyboardEvent) => {
    if (k.key !== 'Escape' || !hand) return;
    k.stopPropagation();
    hand.cancel();
    end();
  };
  const up = () => {
    if (!hand) input.focus();
    end();
  };
  const end = () => {
    document.body.style.cursor = '';
    removeEventListener('pointermove', move);
    removeEventListener('pointerup', up);
    removeEventListener('pointercancel', end);
    removeEventListener('keydown', key, true);
  };
  // edited only once it is let go
  input.addEventListener('mousedown', (m) => m.preventDefault(), { once: true });
  addEventListener('pointermove', move);
  addEventListener('pointerup', up);
  addEventListener('pointercancel', end);
  addEventListener('keydown', key, true);
}
