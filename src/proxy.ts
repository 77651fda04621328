import { NextResponse, type NextRequest } from 'next/server';
import { isOwnHost } from './server/http/own-page';

/**
 * Pages run only the scripts that come with them, are shown in no frame of another page, and only under a name of this program.
 * The routes under /api see to themselves: a request that passes through here has its body cut at 10 MB.
 */
export function proxy(request: NextRequest): NextResponse {
  if (!isOwnHost(request.headers.get('host')))
    return new NextResponse('Irimi answers only to the names 127.0.0.1 and localhost.', { status: 403 });
  const nonce = btoa(crypto.randomUUID());
  const policy = [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'self'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
  const headers = new Headers(request.headers);
  headers.set('x-nonce', nonce);
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  return response;
}

export const config = { matcher: ['/((?!api/|_next/static|_next/image|icon).*)'] };
