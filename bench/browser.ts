import { readdirSync, readFileSync } from 'node:fs';
import type { Browser } from 'puppeteer-core';
import {
  DEMO,
  eventually,
  goTo,
  keys,
  launch,
  listOfSongs,
  openPage,
  recordOutput,
} from '../e2e/browser';
import { setTimeout as pause } from 'node:timers/promises';
import type { Figure } from './main';
import { draftFigures } from './draft';
import { gatherFigures } from './library';
import { loadFigures } from './load';
import { longPattern } from './material';
import { demoSongs } from '../src/demo';
import { findSection } from '../src/core/model';
import { bundled, store, withOwnScripts } from './inPage';
import { weaveFigures } from './weave';

export async function browserFigures(): Promise<Figure[]> {
  const browser = await launch();
  try {
    return [
      ...(await mixdown(browser)),
      ...(await stems(browser)),
      ...(await loadFigures(browser)),
      await firstStroke(browser),
      await paint(browser),
      ...(await longSheet(browser)),
      ...(await gatherFigures(browser)),
      await editsWhilePlaying(browser),
      ...(await weaveFigures(browser)),
      ...(await draftFigures(browser)),
    ];
  } finally {
    await browser.close();
  }
}

/** Highest resident memory of any renderer of this browser so far, in MB. */
function peakMemory(browser: Browser): number {
  const root = browser.process()!.pid!;
  const fields = (pid: string, file: string) => {
    try {
      return readFileSync(`/proc/${pid}/${file}`, 'utf8');
    } catch {
      return '';
    }
  };
  const parents = new Map(
    readdirSync('/proc')
      .filter((name) => /^\d+$/.test(name))
      .map((pid) => [pid, /PPid:\s+(\d+)/.exec(fields(pid, 'status'))?.[1]] as const),
  );
  const descends = (pid: string | undefined): boolean =>
    pid === String(root) || (pid !== undefined && pid !== '0' && descends(parents.get(pid)));
  const peaks = [...parents.keys()]
    .filter((pid) => descends(pid) && fields(pid, 'cmdline').includes('--type=renderer'))
    .map((pid) => Number(/VmHWM:\s+(\d+)/.exec(fields(pid, 'status'))?.[1] ?? 0) / 1024);
  return Math.max(...peaks);
}

async function mixdown(browser: Browser): Promise<Figure[]> {
  const source = await bundled('bench/mixdown.page.ts');
  // Memory first, before anything else has made a renderer large.
  const { page } = await openPage(browser, '/', withOwnScripts);
  await pause(500);
  const idle = peakMemory(browser);
  await page.evaluate(async (code) => {
    const text = `${code}; bench.fiveMinutes(); postMessage('done');`;
    const worker = new Worker(URL.createObjectURL(new Blob([text])));
    await new Promise((done) => (worker.onmessage = done));
    worker.terminate();
  }, source);
  const used = peakMemory(browser) - idle;
  const { engine, graph } = await page.evaluate(async (code) => {
    const run = new Function(`${code}; return bench.compare();`) as () => Promise<{
      engine: number;
      graph: number;
    }>;
    return run();
  }, source);
  await page.close();
  return [
    {
      name: 'mixdown',
      ratio: engine / graph,
      bound: 0.5,
      detail: `engine ${engine.toFixed(0)} ms, OfflineAudioContext in one-second chunks ${graph.toFixed(0)} ms, 60 s, 2,000 hits, 12 strips`,
    },
    {
      name: 'mixdown.memory',
      ratio: used / 400,
      bound: 1,
      detail: `${used.toFixed(0)} MB above an idle page for a 5-minute render; 400 MB are allowed`,
    },
  ];
}

/** Seconds of sound that were written, the milliseconds that it took, and in how many files. */
interface Written {
  seconds: number;
  ms: number;
  files: number;
}

/** Twelve stems and the mix of two minutes, in a worker, and their peak of memory. */
async function stems(browser: Browser): Promise<Figure[]> {
  const source = await bundled('bench/stems.page.ts');
  const { page } = await openPage(browser, '/', withOwnScripts);
  await pause(500);
  const idle = peakMemory(browser);
  await page.evaluate((code) => {
    const text = `${code}; bench.stems().then(postMessage);`;
    const worker = new Worker(URL.createObjectURL(new Blob([text])));
    worker.onmessage = ({ data }) => {
      worker.terminate();
      Object.assign(window, { written: data as unknown });
    };
  }, source);
  // It takes minutes: longer than one question to the page may.
  const { seconds, ms, files } = await eventually(
    async () => {
      const all = await page.evaluate(() => (window as unknown as { written?: Written }).written);
      if (!all) throw new Error('The stems are still being written');
      return all;
    },
    () => {},
    20 * 60_000,
  );
  const used = peakMemory(browser) - idle;
  const { engine, graph } = await page.evaluate(async (code) => {
    const run = new Function(`${code}; return bench.compare();`) as () => Promise<{
      engine: number;
      graph: number;
    }>;
    return run();
  }, source);
  await page.close();
  return [
    {
      name: 'stems',
      ratio: ms / ((seconds * 1000) / 15),
      bound: 1,
      detail: `${files} files of two minutes, ${seconds.toFixed(0)} s of sound, in ${(ms / 1000).toFixed(1)} s on one core: ${((seconds * 1000) / ms).toFixed(1)} times faster than they play`,
    },
    {
      name: 'stems.graph',
      ratio: engine / graph,
      bound: 0.5,
      detail: `mix and two stems of a minute: engine ${engine.toFixed(0)} ms, OfflineAudioContext in one-second chunks ${graph.toFixed(0)} ms`,
    },
    {
      name: 'stems.memory',
      ratio: Math.max(0, used) / 600,
      bound: 1,
      detail: `${used.toFixed(0)} MB above an idle page; 600 MB are allowed`,
    },
  ];
}

/** From pressing a song in the list to its first stroke in the loudspeakers, with play pressed as soon as it can be. */
export async function firstStroke(browser: Browser): Promise<Figure> {
  const times: number[] = [];
  for (let round = 0; round < 3; round++) {
    const context = await browser.createBrowserContext();
    const { page } = await openPage(context, '/', recordOutput);
    await listOfSongs(page);
    await pause(3000);
    times.push(
      await page.evaluate(async () => {
        const heardAt = () => (window as unknown as { heardAt?: number }).heardAt;
        const frame = () => new Promise((done) => requestAnimationFrame(done));
        const song = document.querySelector<HTMLElement>('[aria-label=songs] > li a')!;
        const start = Date.now();
        song.click();
        while (!document.querySelector('[data-saving]')) await frame();
        const space = { code: 'Space', key: ' ', bubbles: true, cancelable: true };
        document.body.dispatchEvent(new KeyboardEvent('keydown', space));
        while (!heardAt() && Date.now() - start < 10_000) await frame();
        return (heardAt() ?? Infinity) - start;
      }),
    );
    await context.close();
  }
  const [, middle] = times.sort((a, b) => a - b);
  return {
    name: 'kit.first',
    ratio: middle / 700,
    bound: 1,
    detail: `${times.map((ms) => ms.toFixed(0)).join(', ')} ms from opening a song, three seconds after the list was shown, to its first stroke heard; 700 ms are allowed`,
  };
}

async function paint(browser: Browser): Promise<Figure> {
  const { page } = await openPage(browser, '/', withOwnScripts);
  await goTo(page, `${DEMO}/shape`);
  await page.waitForSelector('[role=gridcell]');
  // The kit is computed in a worker at first; that is not what is measured.
  await pause(4000);
  const source = await bundled('bench/paint.page.ts');
  const { press, empty } = await page.evaluate(async (code) => {
    const run = new Function(`${code}; return bench.compare();`) as () => Promise<{
      press: number;
      empty: number;
    }>;
    return run();
  }, source);
  return {
    name: 'paint',
    ratio: press / empty,
    bound: 1.5,
    detail: `press to frame ${press.toFixed(1)} ms, empty state change ${empty.toFixed(1)} ms, 95th percentiles of 120`,
  };
}

/** The longest pattern in Shape: a slider that humanizes all of it, and scrolling through it. */
async function longSheet(browser: Browser): Promise<Figure[]> {
  const { page } = await openPage(browser, '/', withOwnScripts);
  const song = longPattern();
  await store(page, song);
  await goTo(page, `/song/${song.id}/shape`);
  await page.waitForSelector('[role=gridcell]');
  await pause(4000);
  await page.focus('[role=grid]');
  await keys(page, 'Control+a', 't');
  await page.waitForSelector('[role=menu]');
  await keys(page, 'h');
  await page.waitForSelector('[role=group] input[type=range]');
  await pause(500);
  const source = await bundled('bench/sheet.page.ts');
  const { step, empty, worst, late, frames } = await page.evaluate(async (code) => {
    const run = new Function(`${code}; return bench.compare();`) as () => Promise<{
      step: number;
      empty: number;
      worst: number;
      late: number;
      frames: number;
    }>;
    return run();
  }, source);
  return [
    {
      name: 'select+humanize',
      ratio: step / empty,
      bound: 4,
      detail: `slider step to frame ${step.toFixed(1)} ms, empty state change ${empty.toFixed(1)} ms, 95th percentiles, 6,000 hits selected`,
    },
    {
      name: 'scroll',
      ratio: worst / 50,
      bound: 1,
      detail: `longest frame ${worst.toFixed(1)} ms (50 allowed), ${((late / frames) * 100).toFixed(1)} % of ${frames} frames over 17 ms, 64 bars`,
    },
  ];
}

/** What 500 edits leave in memory while a song of 187 seconds plays, with all of them to be undone. */
async function editsWhilePlaying(browser: Browser): Promise<Figure> {
  const { page } = await openPage(browser);
  const [demo] = demoSongs();
  const beats = demo.places.reduce(
    (sum, { section }) => sum + 4 * findSection(demo, section)!.bars,
    0,
  );
  const song = { ...demo, id: 'long-loop', bpm: (beats * 60) / 187 };
  await store(page, song);
  await goTo(page, `/song/${song.id}/weave`);
  await pause(4000);
  await keys(page, 'Space', 'Alt+2');
  await page.waitForSelector('[role=gridcell]');
  await page.focus('[role=grid]');
  await pause(4000);
  const client = await page.createCDPSession();
  const used = async () => {
    await client.send('HeapProfiler.collectGarbage');
    const usage = await client.send('Runtime.getHeapUsage');
    return (usage.usedSize + (usage.backingStorageSize ?? 0)) / 1024 ** 2;
  };
  const before = await used();
  for (let i = 0; i < 250; i++) await keys(page, 'Enter', 'ArrowRight');
  for (let i = 0; i < 250; i++) await keys(page, 'Enter', 'ArrowLeft');
  await pause(3000);
  const grown = (await used()) - before;
  await page.close();
  return {
    name: 'edits.memory',
    ratio: Math.max(0, grown) / 10,
    bound: 1,
    detail: `${grown.toFixed(1)} MB more after 500 edits while 187 s play; 10 MB are allowed`,
  };
}
