import { spawn, spawnSync } from 'node:child_process';
import { createServer } from 'node:net';
import type { Browser } from 'puppeteer-core';
import { HOME } from '../e2e/browser';
import type { Figure } from './main';

const NEXT = 'node_modules/next/dist/bin/next';
const BARE = 'bench/bare';
const ROUNDS = 7;

/**
 * From asking for a page in a profile that has never seen it, to what is useful on it: the list of songs with the
 * demo in it, beside the button of a page that has nothing else. Both are served in the same way, in turns.
 */
export async function loadFigures(browser: Browser): Promise<Figure[]> {
  const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1' };
  const built = spawnSync('node', [NEXT, 'build', BARE], { env, encoding: 'utf8' });
  if (built.status !== 0) throw new Error(`The bare page was not built: ${built.stderr}`);
  const port = await freePort();
  const server = spawn('node', [NEXT, 'start', BARE, '-p', String(port)], { stdio: 'ignore', env });
  const bare = `http://localhost:${port}`;
  try {
    for (let tries = 0; tries < 120; tries++) {
      const up = await fetch(bare).then(
        ({ ok }) => ok,
        () => false,
      );
      if (up) break;
      await new Promise((later) => setTimeout(later, 250));
    }
    const times: { ours: number[]; bare: number[] } = { ours: [], bare: [] };
    let script = 0;
    for (let round = 0; round < ROUNDS; round++) {
      times.bare.push((await firstUse(browser, bare, 'button')).ms);
      times.ours.push((await firstUse(browser, HOME, '[aria-label=songs] li [role=img]')).ms);
      // All that is loaded until the browser has the songs itself, and draws them.
      const ours = await firstUse(browser, HOME, '[aria-label=songs] li canvas');
      script = Math.max(script, ours.script);
    }
    const [ours, least] = [middle(times.ours), middle(times.bare)];
    return [
      {
        name: 'load',
        ratio: ours / least,
        bound: 2,
        detail: `first useful paint: the list with the demo ${ours.toFixed(0)} ms, a bare page with one button ${least.toFixed(0)} ms, middle of ${ROUNDS}`,
      },
      {
        name: 'load.script',
        ratio: script / 450_000,
        bound: 1,
        detail: `${(script / 1000).toFixed(0)} kB of JavaScript as it is sent for the first view; 450 kB are allowed`,
      },
    ];
  } finally {
    server.kill();
  }
}

/** Loads a page in a profile of its own. @returns when the thing is painted first, and the bytes of its scripts */
async function firstUse(
  browser: Browser,
  url: string,
  what: string,
): Promise<{ ms: number; script: number }> {
  const context = await browser.createBrowserContext();
  try {
    const page = await context.newPage();
    const client = await page.createCDPSession();
    await client.send('Network.enable');
    const scripts = new Set<string>();
    let script = 0;
    client.on('Network.responseReceived', ({ requestId, type }) => {
      if (type === 'Script') scripts.add(requestId);
    });
    let seen = false;
    client.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
      if (scripts.has(requestId) && !seen) script += encodedDataLength;
    });
    await page.evaluateOnNewDocument((selector) => {
      const look = () => {
        if (document.querySelector(selector)) {
          // Painted with the frame after the one in which it is there.
          requestAnimationFrame(() => Object.assign(window, { usefulAt: performance.now() }));
        } else requestAnimationFrame(look);
      };
      requestAnimationFrame(look);
    }, what);
    await page.goto(url);
    const handle = await page.waitForFunction(
      () => (window as unknown as { usefulAt?: number }).usefulAt,
    );
    const ms = (await handle.jsonValue()) as number;
    seen = true;
    return { ms, script };
  } finally {
    await context.close();
  }
}

const middle = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1];

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const probe = createServer().listen(0, () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}
