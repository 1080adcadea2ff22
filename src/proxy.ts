/** A strict content security policy with a nonce for each page; scripts of our own only. */
import { NextResponse, type NextRequest } from 'next/server';
import { hostAsked, isOurs } from './server/hosts';

export function proxy(request: NextRequest): NextResponse {
  if (!isOurs(hostAsked(request.headers)))
    return new NextResponse('This server is not known by that name. Start it with --host to name it.', { status: 421 });
  const nonce = btoa(crypto.randomUUID());
  const policy = [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    "worker-src 'self' blob:",
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "font-src 'self'",
    "connect-src 'self'",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
  const headers = new Headers(request.headers);
  headers.set('x-nonce', nonce);
  headers.set('Content-Security-Policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('Content-Security-Policy', policy);
  return response;
}

export const config = { matcher: [{ source: '/((?!api|_next/static|_next/image|favicon.ico).*)' }] };
