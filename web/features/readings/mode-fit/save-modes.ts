import type { Identified } from '@vim-pivot/core/analyses';
import { useDocument } from '@/state/document/document';
import { download, fileName } from '@/state/files/download';

/** Modes, and the matrices of the linear system, as a file. @param names of the channels; @param amplitude the unit they are in */
export function saveModes({ modes, rest, explained, A, C, x0, dt }: Identified, names: readonly string[], amplitude: string): void {
  const content = {
    units: { frequency: 'Hz', eigenvalue: '1/s', phase: 'rad', amplitude },
    channels: names,
    modes: modes.map((x) => ({
      frequency: x.frequency,
      damping: x.damping,
      eigenvalue: [x.re, x.im],
      channels: x.shape.map((s, k) => ({ name: names[k], ...s })),
    })),
    rest,
    explained,
    system: { 'x(k+1) = A x(k), y = C x + rest': { A, C, x0, dt } },
  };
  const name = fileName(useDocument.getState().model?.name ?? 'curves');
  download(`${name}-modes.json`, JSON.stringify(content, null, 1), 'application/json');
}
