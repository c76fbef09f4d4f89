/** A strict Content-Security-Policy with a fresh nonce for every page: no inline code, no eval, nothing from elsewhere. */
import { type NextRequest, NextResponse } from 'next/server';

export function proxy(request: NextRequest): NextResponse {
  const nonce = btoa(crypto.randomUUID());
  // The development server evaluates code of its own; what is built and shipped never does.
  const development = process.env.NODE_ENV === 'development' ? " 'unsafe-eval'" : '';
  // The worker that reads STEP and IGES, and it alone, may start compiled code, whose library builds its own glue: it has no page and no store at hand.
  // The sandbox of scripts, and the solids library of the engine, are compiled code too, and need no more than that.
  const compiled =
    {
      '/engine/import.js': " 'wasm-unsafe-eval' 'unsafe-eval'",
      '/engine/script.js': " 'wasm-unsafe-eval'",
      '/engine/engine.js': " 'wasm-unsafe-eval'",
    }[request.nextUrl.pathname] ?? '';
  const policy = [
    "default-src 'none'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'${development}${compiled}`,
    "worker-src 'self'",
    "connect-src 'self'",
    "img-src 'self' data: blob:",
    "font-src 'self'",
    "style-src 'self' 'unsafe-inline'",
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join('; ');
  const headers = new Headers(request.headers);
  headers.set('x-nonce', nonce);
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  return response;
}

export const config = { matcher: [{ source: '/((?!_next/static|_next/image|favicon.ico|icon.svg).*)' }] };
