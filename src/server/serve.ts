import { createServer } from 'node:http';
import { hostname } from 'node:os';
import next from 'next';
import { HEADERS, refusalOf } from './asked';

/**
 * Serves the built application.
 * @param host the interface it listens on: `localhost` is this machine alone, `0.0.0.0` every network it is in
 * @param named further names it goes by, as behind a proxy
 */
export async function main(
  port: number,
  host: string,
  named: readonly string[] = [],
): Promise<void> {
  const app = next({ dev: false, hostname: host, port });
  await app.prepare();
  const answer = app.getRequestHandler();
  const own = hostname().toLowerCase();
  const names = [host, own, `${own}.local`, ...named].map((name) => name.toLowerCase());
  const server = createServer((request, response) => {
    for (const { key, value } of HEADERS) response.setHeader(key, value);
    const refusal = refusalOf(request, names);
    if (refusal) {
      response.writeHead(refusal.status, {
        'Content-Type': 'text/plain; charset=utf-8',
        ...refusal.headers,
      });
      response.end(request.method === 'HEAD' ? undefined : `${refusal.text}\n`);
      return;
    }
    // A server may answer with the whole (RFC 9110, section 14.2). No file is so long that a part of it is asked for,
    // and ranges beyond the end of one are no requests that Next.js can answer.
    delete request.headers.range;
    answer(request, response).catch((error: unknown) => {
      console.error(error);
      if (!response.headersSent) response.writeHead(500);
      response.end();
    });
  });
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => process.exit(0));
  await new Promise<void>((listening, failed) => {
    server.once('error', failed);
    server.listen(port, host, listening);
  });
}
