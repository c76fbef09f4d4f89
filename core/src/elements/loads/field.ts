import { refuse } from '../../diagnosis';
import { sixMatrix } from '../../equations/laws/bushing';
import { grid } from '../../model/fields';
import { load } from './load';
import { COINCIDING, betweenFrames, coincidingFrames } from './coinciding-frames';

export const field = load({
  kind: 'field',
  label: 'Stiffness field',
  tells: ['effort', 'deflection', 'rate'],
  handed: true,
  help: 'A bushing with coupled directions: six-by-six matrices of stiffness and damping, rows and columns x, y, z, then rotation about x, y, z, in SI units.',
  fields: {
    ...COINCIDING,
    stiffness: grid(6, 6, 6, 'Stiffness', 'Symmetric: N/m, N/rad and N·m/rad.'),
    damping: { ...grid(6, 6, 6, 'Damping', 'N·s/m, N·s/rad and N·m·s/rad. Left out: none.'), optional: true as const },
  },
  force(v, m) {
    const { a, b } = coincidingFrames(v, m);
    const K = Float64Array.from(v.stiffness.flat());
    const size = Math.max(...K.map(Math.abs));
    for (let i = 0; i < 6; i++)
      for (let j = 0; j < i; j++) {
        if (Math.abs(K[6 * i + j]! - K[6 * j + i]!) > 1e-9 * size)
          refuse({
            code: 'field-asymmetric',
            message: `Its stiffness is not symmetric: entry ${i + 1}, ${j + 1} differs from ${j + 1}, ${i + 1}.`,
            why: 'Such a bushing would give out energy without end.',
            remedy: 'Make both entries equal.',
          });
      }
    const none = (count: number) => new Array<number>(count).fill(0);
    return betweenFrames(sixMatrix, a, b, [...K, ...(v.damping?.flat() ?? none(36)), ...none(6)]);
  },
  outline: (v, m) => ({ type: 'none', at: { body: m.index(v.bodies[0]!), at: m.place(v.at[0]!, v.bodies[0]!) } }),
});
