/** @about audio stages/deliver */
/** What is heard is timed: @quiet */
import { build } from 'esbuild';
import type { Page } from 'puppeteer-core';
import { tempoOfSong, timeline } from '../src/core/weave';
import { demoSongs } from '../src/demo';
import {
  atStage,
  changing,
  choose,
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
  listOfSongs,
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
    expect((await strokesHeard(page, 4)).length).toBeGreaterThan(2);
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
    const beats = await strokesHeard(page, 4);
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
test('the worklet and a worker give the same samples, through locates, loops, edits and tempos', async () => {
  const { outputFiles } = await build({
    stdin: { contents: RENDERER, resolveDir: process.cwd(), loader: 'ts' },
    bundle: true,
    format: 'iife',
    write: false,
    alias: { '@': './src' },
  });
  await listOfSongs(page);
  const result = await page.evaluate(async (source) => {
    interface Rendered {
      left: Float32Array;
      right: Float32Array;
      start: unknown;
    }
    const worker = new Worker(URL.createObjectURL(new Blob([source], { type: 'text/javascript' })));
    const mix = await new Promise<Rendered>((done) => {
      worker.onmessage = (event) => done(event.data);
    });
    const context = new OfflineAudioContext(2, mix.left.length, 48_000);
    await context.audioWorklet.addModule('/worklet/engine.js');
    const node = new AudioWorkletNode(context, 'verse-loom-engine', {
      numberOfInputs: 0,
      outputChannelCount: [2],
      processorOptions: mix.start,
    });
    node.connect(context.destination);
    const heard = await context.startRendering();
    return [mix.left, mix.right].map((side, i) => {
      const other = heard.getChannelData(i);
      let different = 0;
      const peaks = [0, 0, 0, 0, 0];
      side.forEach((x, at) => {
        if (x !== other[at]) different++;
        const part = Math.floor((at / side.length) * 5);
        peaks[part] = Math.max(peaks[part], Math.abs(x));
      });
      return { length: side.length, different, peaks };
    });
  }, outputFiles[0].text);
  for (const { length, different, peaks } of result) {
    expect([length, different]).toEqual([5 * 600 * 128, 0]);
    // Something is heard before and after each of the four changes.
    expect(Math.min(...peaks)).toBeGreaterThan(0.1);
  }
});

/** Plays the demo through an engine in a worker: each fifth of it begins with another change. */
const RENDERER = `
  import { applyCommand } from './src/core';
  import { compileDesk, compileLoop, compileScore, Engine, notesIn, soundsFor } from './src/core/engine';
  import { demoSongs } from './src/demo';
  import { tell } from './src/audio/tell';
  const BAR = 3840;
  const [song] = demoSongs();
  const verse = song.patterns[0];
  const edited = applyCommand(song, {
    type: 'remove hits',
    pattern: verse.id,
    ids: verse.strands.find(({ piece }) => piece === 'hihat').hits.map(({ id }) => id),
  });
  const faster = applyCommand(edited, { type: 'set tempo', bpm: 131 });
  const loop = { from: 6 * BAR, to: 7 * BAR };
  const cue = (of, within) => {
    const score = compileScore(of);
    return {
      type: 'score',
      score,
      ...(within && { loop: compileLoop(score, within.from, within.to) }),
    };
  };
  const first = cue(song);
  const sounds = soundsFor(notesIn(first.score), 48000);
  const start = {
    messages: [
      ...sounds.map((sound) => ({ type: 'sound', sound })),
      { type: 'desk', desk: compileDesk(song) },
      first,
      { type: 'play', from: 4 * BAR },
    ],
    later: [
      { block: 600, message: { type: 'locate', to: 12 * BAR + 77 } },
      { block: 1200, message: cue(song, loop) },
      { block: 1800, message: cue(edited, loop) },
      { block: 2400, message: cue(faster, loop) },
    ],
  };
  const engine = new Engine(48000);
  for (const message of start.messages) tell(engine, message);
  const [left, right] = [0, 1].map(() => new Float32Array(5 * 600 * 128));
  for (let block = 0; block < 5 * 600; block++) {
    for (const { block: at, message } of start.later) if (at === block) tell(engine, message);
    const part = [block * 128, (block + 1) * 128];
    engine.process(left.subarray(...part), right.subarray(...part), 128);
  }
  postMessage({ left, right, start });
`;

test('what plays reaches the simulated receiver when it is heard', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/deliver`);
  await pressButton(page, 'live');
  await choose(page, 'all tracks to', 'simulated receiver');
  await page.click('aria/simulated receiver[role="checkbox"]');
  const rows = () =>
    page.$$eval('tr[data-due]', (all) =>
      all.map((row) => {
        const { due, bytes } = (row as HTMLElement).dataset;
        return { due: Number(due), bytes: bytes!.split(',').map(Number) };
      }),
    );
  // The hits of the demo by the seconds at which they sound, and by the clock of the engine.
  const [demo] = demoSongs();
  const tempo = tempoOfSong(demo);
  const hits = timeline(demo).map(({ tick }) => tempo.secondsAt(tick) * 1000);
  const take = async () => {
    await keys(page, 'Space');
    const got = await eventually(rows, (all) =>
      expect(all.filter(({ bytes }) => bytes[0] === 0x99).length).toBeGreaterThan(24),
    );
    await keys(page, 'Space');
    expect(got[0].bytes).toEqual([0xfa]);
    const ons = got.filter(({ bytes }) => bytes[0] === 0x99).map(({ due }) => due - got[0].due);
    return Math.max(...ons.map((at, i) => Math.abs(at - hits[i])));
  };
  let off = await take();
  // Where the sound of a busy machine stalled, the clock of the engine did: that is no take to measure by.
  for (let again = 0; off >= 5 && again < 6; again++) {
    await goTo(page, `${DEMO}/deliver`);
    await pressButton(page, 'live');
    off = await take();
  }
  expect(off).toBeLessThan(5);
  await eventually(rows, (all) => expect(all.some(({ bytes }) => bytes[0] === 0xfc)).toBe(true));
  await seesText(page, /clock: [\d,]+ pulses, 104\.\d bpm/);
});
