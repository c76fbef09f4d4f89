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

const built = sirv(path.join(dir, '.next/static'), {
  brotli: true,
  immutable: true,
  maxAge: 31_536_000,
  setHeaders: (answer) => HEADERS.forEach((h) => answer.setHeader(h.key, h.value)),
});
// 5 is nearly as small as the best, and as quick as gzip
const compress = compression({ brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: 5 } } });
const handle = app.getRequestHandler();
const STATIC = '/_next/static';

createServer((request, answer) => {
  const rest = () => compress(request, answer, () => void handle(request, answer));
  if (!request.url.startsWith(`${STATIC}/`)) return rest();
  const whole = request.url;
  request.url = whole.slice(STATIC.length);
  built(request, answer, () => {
    request.url = whole;
    rest();
  });
}).listen(port, hostname, () =>
  process.stdout.write(`Vim Pivot is at http://${hostname === '127.0.0.1' ? 'localhost' : hostname}:${port}\n`),
);
