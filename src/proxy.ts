import { NextResponse, type NextRequest } from 'next/server';

/**
 * Before every answer: an address that cannot be read is none, and a page runs the scripts that came with
 * it and no others, told by a number that is used once.
 */
export function proxy(request: NextRequest): NextResponse {
  if (!isReadable(request.url)) {
    return new NextResponse('There is nothing at this address.\n', { status: 404 });
  }
  const nonce = btoa(crypto.randomUUID());
  const policy = contentPolicy(nonce, process.env.NODE_ENV === 'development');
  // Next.js finds the number in the policy of what was asked, and marks its own scripts with it.
  const headers = new Headers(request.headers);
  headers.set('x-nonce', nonce);
  headers.set('Content-Security-Policy', policy);
  const answer = NextResponse.next({ request: { headers } });
  answer.headers.set('Content-Security-Policy', policy);
  return answer;
}

function isReadable(url: string): boolean {
  try {
    decodeURIComponent(url);
    return true;
  } catch {
    return false;
  }
}

/**
 * Everything comes from this server. Styles may stand in the page, because they are made there; scripts
 * may not, except those marked with the nonce.
 */
export function contentPolicy(nonce: string, inDevelopment = false): string {
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'${inDevelopment ? " 'unsafe-eval'" : ''}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self' data:",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join('; ');
}
