/** What becomes of a number that is dragged sideways. */
import { numberOf } from '@/state/document/elements';

/** Change for each pixel, beside the number itself; with Shift a tenth of it. */
const EACH = 0.005;
const FINE = 0.1;

/** @param text as it was @param set is given the text it becomes @returns is told how far the hand has come, px */
export function dragged(text: string, set: (text: string) => void): (dx: number, fine: boolean) => void {
  const number = numberOf(text);
  if (!number) return () => undefined;
  const { value, unit } = number,
    each = EACH * (value === 0 ? 1 : Math.abs(value));
  let written = text;
  return (dx, fine) => {
    const next = value + each * (fine ? FINE : 1) * dx,
      // no more digits than the step can change
      step = 10 ** (Math.floor(Math.log10(each)) + (fine ? -1 : 0)),
      rounded = Number((Math.round(next / step) * step).toPrecision(6)),
      now = `${rounded}${unit}`;
    if (now === written) return;
    written = now;
    set(now);
  };
}
