import { build } from 'esbuild';
import { readFileSync } from 'node:fs';
import type { Browser, Page } from 'puppeteer-core';
import {
  DEMO,
  goTo,
  heardPeaks,
  keys,
  launch,
  newSong,
  openPage,
  pause,
  press,
  pressButton,
  recordOutput,
  seesText,
  stepPoint,
} from './browser';

let browser: Browser;
let page: Page;

beforeAll(async () => {
  browser = await launch();
  ({ page } = await openPage(browser, '/', recordOutput));
  // The demo is in storage before the page is left: the browser may not answer again if it is not.
  await page.waitForSelector('li canvas', { timeout: 30_000 });
});
afterAll(() => browser.close());

const loudest = (peaks: number[]) => Math.max(0, ...peaks);

/** Waits until something is heard, at most as long as a kit may take to be computed. */
async function hears(): Promise<void> {
  for (let tries = 0; tries < 100; tries++) {
    if (loudest(await heardPeaks(page)) > 0.02) return;
    await pause(100);
  }
  throw new Error('Nothing was heard');
}

/** How many separate strokes are in what was heard: rises out of near silence. */
function strokes(peaks: number[]): number {
  return peaks.filter((peak, i) => peak > 0.05 && (peaks[i - 1] ?? 0) < peak * 0.5).length;
}

/** How many strokes are heard in so many seconds from now on, counted in what was put out. */
async function strokesIn(seconds: number): Promise<number> {
  await heardPeaks(page);
  const heard: number[] = [];
  const wanted = Math.round((seconds * 48_000) / 1024);
  for (let tries = 0; heard.length < wanted && tries < 300; tries++) {
    await pause(100);
    heard.push(...(await heardPeaks(page)));
  }
  return strokes(heard.slice(0, wanted));
}

/**
 * Listens again when the count is off: a machine that was busy elsewhere leaves gaps in what it puts
 * out, and each gap looks like a stroke.
 */
async function hearsStrokes(seconds: number, low: number, high: number): Promise<number> {
  let count = 0;
  for (let tries = 0; tries < 4; tries++) {
    count = await strokesIn(seconds);
    if (count >= low && count <= high) return count;
  }
  throw new Error(`${count} strokes in ${seconds} s; ${low} to ${high} were expected`);
}

/** Each test begins in silence, whatever the one before it left behind. */
async function stopPlaying(): Promise<void> {
  const stop = await page.$('button[aria-label=stop]');
  await stop?.click();
}

describe('the demo', () => {
  test('sounds when play is pressed, and falls silent when it is stopped', async () => {
    await goTo(page, `${DEMO}/weave`);
    await pressButton(page, 'play');
    await hears();
    const meter = await page.$eval('[data-meter]', (bar) => Number(bar.getAttribute('data-peak')));
    expect(meter).toBeGreaterThanOrEqual(0);
    await pause(700);
    expect(strokes(await heardPeaks(page))).toBeGreaterThan(0);
    await pressButton(page, 'stop');
    await pause(400);
    await heardPeaks(page);
    await pause(500);
    expect(loudest(await heardPeaks(page))).toBeLessThan(0.001);
  });

  test('plays on through a change of stage, and the place in the song moves', async () => {
    await keys(page, 'Space');
    await hears();
    const position = () => page.$eval('[role=timer]', (timer) => timer.textContent);
    const before = await position();
    await keys(page, 'Alt+2');
    await page.waitForSelector('[role=grid]');
    await pause(400);
    expect(await position()).not.toBe(before);
    expect(loudest(await heardPeaks(page))).toBeGreaterThan(0.02);
    await keys(page, 'Space');
  });
});

describe('a pattern of one’s own', () => {
  test('a placed hit is heard at once, and the name of a row too', async () => {
    await newSong(page);
    await press(page, await stepPoint(page, 'snare', 0, 110));
    await hears();
    await pause(700);
    await heardPeaks(page);
    await pressButton(page, 'hear Kick');
    await hears();
  });

  test('what is written while the loop plays is heard in the next round, and undone too', async () => {
    await stopPlaying();
    await keys(page, 'Control+z');
    await press(page, await stepPoint(page, 'kick', 0, 110));
    await pause(600);
    await keys(page, 'Space');
    await hears();
    // Three rounds of two seconds: one stroke each, then two, then one again.
    const one = await hearsStrokes(6, 2, 4);
    await press(page, await stepPoint(page, 'snare', 1920, 120));
    await pause(500);
    await hearsStrokes(6, one + 2, 9);
    await keys(page, 'Control+z');
    await pause(500);
    await hearsStrokes(6, 2, one + 1);
    await keys(page, 'Space');
  });

  test('a count-in clicks four times before the first hit', async () => {
    await stopPlaying();
    await pause(800);
    await keys(page, 'n');
    await heardPeaks(page);
    await keys(page, 'Space');
    await hears();
    await pause(1900);
    const { text } = await page.$eval('[role=timer]', (timer) => ({ text: timer.textContent! }));
    expect(text).toMatch(/^(1 · [1-4]|0|-)/);
    await keys(page, 'Space', 'n');
  });
});

test('sound that the browser holds back is explained, not ignored', async () => {
  const fresh = await openPage(browser, '/', (held) =>
    held.evaluateOnNewDocument(() => {
      // A page that was not touched: the context stays suspended and its wake-up never comes.
      Object.defineProperty(AudioContext.prototype, 'state', { get: () => 'suspended' });
      AudioContext.prototype.resume = () => new Promise(() => {});
    }),
  );
  await goTo(fresh.page, `${DEMO}/weave`);
  await pressButton(fresh.page, 'play');
  await seesText(fresh.page, 'The browser holds sound back until you press something');
  await fresh.page.close();
});

test('the worklet and a worker give the same samples', async () => {
  const bundle = async (contents: string) => {
    const result = await build({
      stdin: { contents, resolveDir: process.cwd(), loader: 'ts' },
      bundle: true,
      format: 'iife',
      write: false,
      alias: { '@': './src' },
    });
    return result.outputFiles[0].text;
  };
  const renderer = await bundle(`
    import { renderScore, soundsFor } from './src/core/engine/mix';
    import { compileScore, notesIn } from './src/core/engine/score';
    import { demoSongs } from './src/demo';
    const score = compileScore(demoSongs()[0]);
    const sounds = soundsFor(notesIn(score), 48000);
    const { left, right } = renderScore(score, { sounds, from: 6, to: 14 });
    postMessage({ left, right, score, sounds });
  `);
  const result = await page.evaluate(async (source) => {
    interface Rendered {
      left: Float32Array;
      right: Float32Array;
      score: unknown;
      sounds: unknown[];
    }
    const worker = new Worker(URL.createObjectURL(new Blob([source], { type: 'text/javascript' })));
    const mix = await new Promise<Rendered>((done) => {
      worker.onmessage = (event) => done(event.data);
    });
    const context = new OfflineAudioContext(2, mix.left.length, 48_000);
    await context.audioWorklet.addModule('/worklet/engine.js');
    const messages = [
      ...mix.sounds.map((sound) => ({ type: 'sound', sound })),
      { type: 'score', score: mix.score },
      { type: 'play', from: 6 },
    ];
    const node = new AudioWorkletNode(context, 'verse-loom-engine', {
      numberOfInputs: 0,
      outputChannelCount: [2],
      processorOptions: { messages },
    });
    node.connect(context.destination);
    const heard = await context.startRendering();
    const sides = [mix.left, mix.right].map((side, i) => {
      const other = heard.getChannelData(i);
      let different = 0;
      let peak = 0;
      side.forEach((x, at) => {
        if (x !== other[at]) different++;
        peak = Math.max(peak, Math.abs(x));
      });
      return { different, peak };
    });
    return { length: mix.left.length, sides };
  }, renderer);
  expect(result.length).toBe(8 * 48_000);
  for (const { different, peak } of result.sides) {
    expect(different).toBe(0);
    expect(peak).toBeGreaterThan(0.2);
  }
  expect(readFileSync('public/worklet/engine.js', 'utf8')).toContain('verse-loom-engine');
});
