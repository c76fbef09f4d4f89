/** Reads parts from files in a worker of its own, which is stopped to cancel. */
import { type Read, Refused, readParts } from './parts';

export type ImportReply = { type: 'progress'; text: string } | ({ type: 'parts' } & Read) | { type: 'refused'; message: string };

const post = (r: ImportReply, transfer: Transferable[] = []) => self.postMessage(r, { transfer });

self.onmessage = ({ data }: MessageEvent<{ name: string; bytes: ArrayBuffer }>): void => {
  void readParts(data.name, data.bytes, (text) => post({ type: 'progress', text }), () => new URL('/engine/occt-import-js.wasm', self.location.origin).href).then(
    (read) => post({ type: 'parts', ...read }, read.parts.flatMap((p) => [p.positions.buffer, p.indices.buffer])),
    (e: unknown) => post({ type: 'refused', message: e instanceof Refused ? e.message : `The file cannot be read: ${e instanceof Error ? e.message.slice(0, 200) : 'it is damaged'}.` }),
  );
};
