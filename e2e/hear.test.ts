import { build } from 'esbuild';
import { readFileSync } from 'node:fs';
import type { Page } from 'puppeteer-core';
import {
  atStage,
  changing,
  DEMO,
  eventually,
  goTo,
  hears,
  hearsNothing,
  keys,
  listenAnew,
  newSong,
  openPage,
  press,
  pressButton,
  recordOutput,
  seesText,
  stepPoint,
  strokesHeard,
  freshPages,
} from './browser';

const bench = freshPages(recordOutput);
let page: Page;
beforeEach(() => {
  page = bench.page;
});

const position = () => page.$eval('[role=timer]', (timer) => timer.textContent!);

describe('the demo', () => {
  test('sounds when play is pressed, and falls silent when it is stopped', async () => {
    await goTo(page, `${DEMO}/weave`);
    await pressButton(page, 'play');
    await hears(page);
    await eventually(
      () => page.$eval('[data-meter]', (bar) => Number(bar.getAttribute('data-peak'))),
      (peak) => expect(peak).toBeGreaterThan(0),
    );
    await listenAnew(page);
    expect((await strokesHeard(page, 2)).length).toBeGreaterThan(2);
    await pressButton(page, 'stop');
    await hearsNothing(page);
  });

  test('plays on through a change of stage, and the place in the song moves', async () => {
    await goTo(page, `${DEMO}/weave`);
    await keys(page, 'Space');
    await hears(page);
    const before = await position();
    await keys(page, 'Alt+2');
    await atStage(page, 'shape');
    await eventually(position, (now) => expect(now).not.toBe(before));
    await hears(page);
  });
});

describe('a pattern of one’s own', () => {
  beforeEach(() => newSong(page));

  test('a placed hit is heard at once, and the name of a row too', async () => {
    await press(page, await stepPoint(page, 'snare', 0, 110));
    await hears(page);
    await hearsNothing(page);
    await pressButton(page, 'hear Kick');
    await hears(page);
  });

  test('what is written while the loop plays is heard in the next round, and undone too', async () => {
    await press(page, await stepPoint(page, 'kick', 0, 110));
    await hears(page);
    await hearsNothing(page);
    await keys(page, 'Space');
    await hears(page);
    /** Three rounds of two seconds. */
    const round = async (strokes: number) => {
      await listenAnew(page);
      const heard = (await strokesHeard(page, 6)).length;
      expect(Math.abs(heard - strokes)).toBeLessThanOrEqual(1);
    };
    await round(3);
    await press(page, await stepPoint(page, 'snare', 1920, 120));
    // The stroke that tells what was placed is over before the count begins.
    await listenAnew(page);
    await strokesHeard(page, 2);
    await round(6);
    await changing(page, () => keys(page, 'Control+z'));
    await listenAnew(page);
    await strokesHeard(page, 0.5);
    await round(3);
  });

  test('a count-in clicks four times on the beats before the first hit', async () => {
    await press(page, await stepPoint(page, 'kick', 0, 120));
    await hears(page);
    await hearsNothing(page);
    await keys(page, 'n');
    await listenAnew(page);
    await keys(page, 'Space');
    await hears(page);
    const beats = await strokesHeard(page, 3.2);
    expect(beats.length).toBeGreaterThanOrEqual(5);
    // Four clicks, half a second apart, and the kick on the beat after them.
    for (let n = 1; n < 5; n++) expect(beats[n].at - beats[n - 1].at).toBeCloseTo(0.5, 1);
    const pitches = beats.slice(0, 4).map(({ pitch }) => Math.round(pitch / 100) * 100);
    expect(pitches).toEqual([1300, 1000, 1000, 1000]);
    expect(beats[4].pitch).toBeLessThan(600);
  });
});

test('sound that the browser holds back is explained, not ignored', async () => {
  const fresh = await openPage(page.browserContext(), '/', (held) =>
    held.evaluateOnNewDocument(() => {
      // A page that was not touched: the context stays suspended and its wake-up never comes.
      Object.defineProperty(AudioContext.prototype, 'state', { get: () => 'suspended' });
      AudioContext.prototype.resume = () => new Promise(() => {});
    }),
  );
  await goTo(fresh.page, `${DEMO}/weave`);
  await pressButton(fresh.page, 'play');
  await seesText(fresh.page, 'The browser holds sound back until you press something');
  expect(fresh.errors).toEqual([]);
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
