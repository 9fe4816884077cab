import type { Browser, Page } from 'puppeteer-core';
import { setTimeout as pause } from 'node:timers/promises';
import { goTo, keys, openPage } from '../e2e/browser';
import { bundled, store, withOwnScripts } from './inPage';
import type { Figure } from './main';
import { wovenSong } from './material';

const FRAME = 1000 / 60;

/** Weave with 300 sections, 2,000 bars and 60,000 hits. */
export async function weaveFigures(browser: Browser): Promise<Figure[]> {
  const { page } = await openPage(browser, '/', withOwnScripts);
  // The database is there once the songs are listed.
  await page.waitForSelector('li canvas');
  // What is kept for working offline is fetched while the list is shown.
  await page.evaluate(() => navigator.serviceWorker.ready);
  const song = wovenSong();
  await store(page, song);
  const source = await bundled('bench/weave.page.ts');
  const text = JSON.stringify(song);
  const { whole, again } = await inWorker(page, await bundled('bench/weave.views.ts'), text);
  const { computed, drawn } = await page.evaluate(
    (code, json) => {
      const run = new Function('song', `${code}; return bench.draw(song);`) as (song: unknown) => {
        computed: number;
        drawn: number;
      };
      return run(JSON.parse(json));
    },
    source,
    text,
  );
  await goTo(page, `/song/${song.id}/weave`);
  await page.waitForSelector('[data-cloth] canvas');
  await pause(3000);
  const frames = await page.evaluate(async (code) => {
    const run = new Function(
      `${code}; return bench.zoom().then(async (zoomed) => [zoomed]);`,
    ) as () => Promise<number[][]>;
    return run();
  }, source);
  await keys(page, '0', '=', '=', '=', '=', '=', '=');
  const scrolled = await page.evaluate(async (code) => {
    const run = new Function(`${code}; return bench.scroll();`) as () => Promise<number[]>;
    return run();
  }, source);
  await keys(page, '0', 'ArrowRight', 'r', 'y');
  await page.waitForSelector('section[aria-label=playable] [role=option]');
  const { edit, empty } = await page.evaluate(async (code) => {
    const run = new Function(`${code}; return bench.edit();`) as () => Promise<{
      edit: number;
      empty: number;
    }>;
    return run();
  }, source);
  await goTo(page, `/song/${song.id}/balance`);
  await page.waitForSelector('[aria-label=tracks] [data-track]');
  await pause(3000);
  const tracks = await page.evaluate(async (code) => {
    const run = new Function(`${code}; return bench.layout();`) as () => Promise<{
      layout: number;
      empty: number;
    }>;
    return run();
  }, source);
  await page.close();
  const all = [...frames[0].slice(1), ...scrolled.slice(1)];
  const worst = Math.max(...all);
  return [
    {
      name: 'weave.edit',
      ratio: edit / empty,
      bound: 5,
      detail: `mended everywhere to frame ${edit.toFixed(1)} ms, empty state change ${empty.toFixed(1)} ms, 95th percentiles of 40`,
    },
    {
      name: 'weave.draw',
      ratio: (computed + drawn) / (2 * FRAME),
      bound: 1,
      detail: `cloth computed ${computed.toFixed(1)} ms and drawn ${drawn.toFixed(1)} ms, two frames are ${(2 * FRAME).toFixed(1)} ms`,
    },
    {
      name: 'weave.scroll',
      ratio: worst / 50,
      bound: 1,
      detail: `longest of ${all.length} frames ${worst.toFixed(1)} ms (50 allowed), scrolling and zooming 2,000 bars`,
    },
    {
      name: 'layout',
      ratio: tracks.layout / tracks.empty,
      bound: 5,
      detail: `60,000 hits on other tracks, to frame ${tracks.layout.toFixed(1)} ms, empty state change ${tracks.empty.toFixed(1)} ms, 95th percentiles of 40`,
    },
    {
      name: 'weave.views',
      ratio: whole / 100,
      bound: 1,
      detail: `repeated bars and playable of 60,000 hits ${whole.toFixed(1)} ms in a worker, after an edit ${again.toFixed(1)} ms`,
    },
  ];
}

function inWorker(page: Page, source: string, text: string) {
  return page.evaluate(
    (code, json) =>
      new Promise<{ whole: number; again: number }>((done, fail) => {
        const body = `${code}; onmessage = ({ data }) => postMessage(bench.views(JSON.parse(data)));`;
        const worker = new Worker(URL.createObjectURL(new Blob([body])));
        worker.onerror = ({ message }) => fail(new Error(message));
        worker.onmessage = ({ data }) => {
          worker.terminate();
          done(data as { whole: number; again: number });
        };
        worker.postMessage(json);
      }),
    source,
    text,
  );
}
