/** Makes a posture the one in which the machine starts: start values of the joints that lead to it, as one undo step. */
import { edit } from '../document/document';
import { freeName } from '../document/elements';

export function startWith(
  label: string,
  starts: readonly { joint: string; freedom: 'rotation' | 'translation'; position: number }[],
): void {
  edit(label, (m) => {
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
