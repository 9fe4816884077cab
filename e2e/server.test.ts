/** @about server */
import { readFileSync } from 'node:fs';
import { request, type IncomingMessage, type RequestOptions } from 'node:http';
import { HOME } from './browser';

/** Asks the server as no browser would. */
function ask(options: RequestOptions): Promise<IncomingMessage & { text: string }> {
  const { hostname, port } = new URL(HOME);
  return new Promise((done, failed) => {
    const asking = request({ hostname, port, ...options }, (answer) => {
      let text = '';
      answer.on('data', (part) => (text += part));
      answer.on('end', () => done(Object.assign(answer, { text })));
    });
    asking.on('error', failed);
    asking.end();
  });
}

test('redirects and refusals say what every answer says: nothing is guessed, framed or told', async () => {
  for (const options of [
    { path: '/songs/' },
    { path: '//x' },
    { method: 'TRACE' },
    { path: '/' },
  ]) {
    const { headers } = await ask(options);
    expect(headers).toMatchObject({
      'x-content-type-options': 'nosniff',
      'x-frame-options': 'DENY',
      'referrer-policy': 'no-referrer',
    });
  }
});

test('what a browser never asks for is refused, and a range is answered with the whole', async () => {
  expect((await ask({ method: 'TRACE' })).statusCode).toBe(405);
  expect((await ask({ method: 'OPTIONS', path: '*' })).statusCode).toBe(405);
  expect((await ask({ method: 'POST', path: '/' })).statusCode).toBe(405);
  for (const Range of ['bytes=5-1', 'bytes=0-9', 'bytes=99999999-']) {
    const { statusCode, text } = await ask({ path: '/offline.js', headers: { Range } });
    expect([statusCode, text]).toEqual([200, readFileSync('public/offline.js', 'utf8')]);
  }
});

test('a name that leads to this machine from elsewhere is not answered', async () => {
  const answer = await ask({ path: '/api/library', headers: { Host: 'elsewhere.example' } });
  expect(answer.statusCode).toBe(421);
  expect(answer.text).toMatch(/does not go by “elsewhere\.example”.*HOSTS/);
});

test('it listens on this machine alone', () => {
  const { port } = new URL(HOME);
  const listening = ['/proc/net/tcp', '/proc/net/tcp6']
    .flatMap((table) => readFileSync(table, 'utf8').split('\n'))
    .map((line) => line.trim().split(/\s+/))
    .filter(
      ([, local, , state]) =>
        state === '0A' && local?.endsWith(`:${Number(port).toString(16).toUpperCase()}`),
    )
    .map(([, local]) => local.split(':')[0]);
  // 127.0.0.1 and ::1, as the system writes them.
  const own = ['0100007F', '00000000000000000000000001000000'];
  expect(listening.length).toBeGreaterThan(0);
  expect(listening.filter((address) => !own.includes(address))).toEqual([]);
});
