/** Serves what is built. Scripts and styles of pages go out as compressed after the build, the rest is compressed as it goes. */
import { createServer } from 'node:http';
import path from 'node:path';
import { constants } from 'node:zlib';
import compression from 'compression';
import next from 'next';
import sirv from 'sirv';
import { HEADERS } from './headers.mjs';

const hostname = process.env.HOST ?? '127.0.0.1',
  port = Number(process.env.PORT ?? 3000);
const dir = path.join(import.meta.dirname, '..');
const app = next({ dev: false, dir, hostname, port });
await app.prepare();

/** Files that never change under their names, as compressed after the build. */
const kept = (folder) =>
  sirv(path.join(dir, folder), {
    brotli: true,
    immutable: true,
    maxAge: 31_536_000,
    setHeaders: (answer) => HEADERS.forEach((h) => answer.setHeader(h.key, h.value)),
  });
// workers themselves have rules of their own, which the framework sets; what they load goes by these
const BUILT = [
  { under: '/_next/static', begins: '/_next/static/', files: kept('.next/static') },
  { under: '/engine', begins: '/engine/chunk-', files: kept('public/engine') },
];
// 5 is nearly as small as the best, and as quick as gzip
const compress = compression({ brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: 5 } } });
const handle = app.getRequestHandler();

createServer((request, answer) => {
  const rest = () => compress(request, answer, () => void handle(request, answer)),
    built = BUILT.find(({ begins }) => request.url.startsWith(begins));
  if (!built) return rest();
  const whole = request.url;
  request.url = whole.slice(built.under.length);
  built.files(request, answer, () => {
    request.url = whole;
    rest();
  });
}).listen(port, hostname, () =>
  process.stdout.write(`Vim Pivot is at http://${hostname === '127.0.0.1' ? 'localhost' : hostname}:${port}\n`),
);
