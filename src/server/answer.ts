import { createHash } from 'node:crypto';

/**
 * A value as JSON, under a tag of what is in it: a browser that has it already is told so in a line.
 */
export function jsonAnswer(value: unknown, request: Request): Response {
  const text = JSON.stringify(value);
  const etag = `"${createHash('sha256').update(text).digest('base64url').slice(0, 27)}"`;
  // Asked about each time, because a server's folders can change.
  const headers = { ETag: etag, 'Cache-Control': 'no-cache' };
  const known = request.headers.get('if-none-match')?.split(/\s*,\s*/) ?? [];
  if (known.some((tag) => tag.replace(/^W\//, '') === etag)) {
    return new Response(null, { status: 304, headers });
  }
  return new Response(text, {
    headers: { ...headers, 'Content-Type': 'application/json; charset=utf-8' },
  });
}

/** Parts of an address as they were meant; nothing where they mean nothing. */
export function decodedParts(parts: readonly string[]): string[] | undefined {
  try {
    return parts.map(decodeURIComponent);
  } catch {
    return undefined;
  }
}
