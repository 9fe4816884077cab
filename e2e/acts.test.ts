/** @about stages/shape stages/gather stages/balance stages/deliver */
import type { Page } from 'puppeteer-core';
import { strFromU8, unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import type { Pattern, Song } from '../src/core';
import { fileOf } from '../src/core/testing/arbitraries';
import {
  atStage,
  bytesIn,
  changing,
  DEMO,
  downloads,
  drag,
  drawn,
  dropFile,
  eventually,
  folderOf,
  freshPages,
  goTo,
  hitsOf,
  listOfSongs,
  keys,
  loopOnRibbon,
  named,
  newSong,
  nothingInFront,
  press,
  pressButton,
  seesText,
  soundOf,
  stepPoint,
  velocities,
  write,
  type Point,
} from './browser';

const bench = freshPages();
let page: Page;
/** How many things the user did: a press, a stroke, a key, a text that is typed, a drop. */
let acts = 0;
beforeEach(() => {
  page = bench.page;
  acts = 0;
});

const act = async (what: Promise<unknown>) => {
  acts++;
  await what;
};
const key = async (...combinations: string[]) => {
  for (const one of combinations) await act(keys(page, one));
};
const pressAt = async (point: Promise<Point>) => act(press(page, await point));
const stroke = async (from: Promise<Point>, to: Promise<Point>) =>
  act(drag(page, [await from, await to]));
const button = (name: string) => act(pressButton(page, name));
const type = (text: string) => act(page.keyboard.type(text));

const STEP = 240;
const BAR = 16 * STEP;
const snare = (step: number, velocity: number) => stepPoint(page, 'snare', step * STEP, velocity);

test('a two-bar rock beat with ghosts: at most 12', async () => {
  await newSong(page);
  await key('BracketRight');
  await stroke(stepPoint(page, 'hihat', 0, 90), stepPoint(page, 'hihat', 14 * STEP, 80));
  await pressAt(snare(4, 112));
  await pressAt(snare(12, 112));
  await pressAt(snare(7, 30));
  await pressAt(snare(9, 30));
  await pressAt(stepPoint(page, 'kick', 0, 110));
  await pressAt(stepPoint(page, 'kick', 8 * STEP, 100));
  await key('b', 'r');
  await pressAt(stepPoint(page, 'kick', BAR + 10 * STEP, 90));
  expect(await hitsOf(page, 'hihat')).toHaveLength(16);
  expect(await hitsOf(page, 'kick')).toHaveLength(5);
  const struck = await velocities(page, 'snare');
  expect([struck.filter((v) => v < 48).length, struck.filter((v) => v > 100).length]).toEqual([
    4, 4,
  ]);
  expect(acts).toBeLessThanOrEqual(12);
});

test('hats that swing: at most 3, and nothing else does', async () => {
  await goTo(page, `${DEMO}/shape`);
  const kicks = await hitsOf(page, 'kick');
  const hats = await hitsOf(page, 'hihat');
  await button('hear Hi-hat');
  await key('r');
  await act(page.click('xpath///nav//button[starts-with(., "swing")]'));
  await eventually(
    () => hitsOf(page, 'hihat'),
    (now) => expect(now).not.toEqual(hats),
  );
  expect(acts).toBeLessThanOrEqual(3);
  await changing(page, () => keys(page, 'Enter'));
  expect(await hitsOf(page, 'kick')).toEqual(kicks);
});

test('hats to the ride in bars 3 and 4, by keys alone: at most 8', async () => {
  await newSong(page);
  await page.focus('[role=grid]');
  await drag(page, [
    await stepPoint(page, 'hihat', 0, 90),
    await stepPoint(page, 'hihat', 15 * STEP, 90),
  ]);
  // Four bars of it, and the cursor at its start.
  await keys(page, 'g', 'g', ...Array<string>(4).fill('Control+Shift+ArrowLeft'));
  const row = () => page.$$eval('[id^="cell-hihat-"]', (cells) => cells.length);
  await eventually(row, (cells) => expect(cells).toBe(64));
  const all = (await hitsOf(page, 'hihat')).length;
  await key('Control+Shift+ArrowRight', 'Control+Shift+ArrowRight', 'f', 'h', 'Alt+ArrowUp');
  expect(acts).toBeLessThanOrEqual(8);
  const rides = await hitsOf(page, 'ride');
  expect(rides.length).toBeGreaterThan(16);
  expect(rides.every((said) => /bar [34] /.test(said))).toBe(true);
  expect((await hitsOf(page, 'hihat')).length + rides.length).toBe(all);
});

test('a roll with a crescendo: at most 4, by keys and with the mouse', async () => {
  await newSong(page);
  await stroke(snare(8, 20), snare(15, 120));
  expect(acts).toBeLessThanOrEqual(4);
  const grows = async (piece: string) => {
    const struck = await velocities(page, piece);
    // Two strokes of a roll may stand in one step.
    expect(struck.length).toBeGreaterThanOrEqual(4);
    expect(struck).toEqual([...struck].sort((a, b) => a - b));
    expect(struck.at(-1)! - struck[0]).toBeGreaterThan(50);
  };
  await grows('snare');
  await changing(page, () => keys(page, 'Control+z'));
  acts = 0;
  await page.focus('[role=grid]');
  await key('o', 'r', 'Enter');
  expect(acts).toBeLessThanOrEqual(4);
  await grows('snare');
});

const ctrlPress = async (piece: string, step: number, velocity: number) => {
  await page.keyboard.down('Control');
  await press(page, await stepPoint(page, piece, step * STEP, velocity));
  await page.keyboard.up('Control');
};

/** A beat of eighths on the hats with backbeat, in a bar of its own; the hats come last. */
async function beatOfEighths(): Promise<void> {
  await newSong(page);
  for (const [piece, step] of [
    ['kick', 0],
    ['snare', 4],
    ['kick', 8],
    ['snare', 12],
  ] as const) {
    await press(page, await stepPoint(page, piece, step * STEP, 100));
  }
  await keys(page, 'BracketRight');
  await drag(page, [
    await stepPoint(page, 'hihat', 0, 90),
    await stepPoint(page, 'hihat', 14 * STEP, 80),
  ]);
  await keys(page, 'BracketLeft');
}

test('open hats on the upbeats, that the closed ones stop: at most 3', async () => {
  await beatOfEighths();
  await key('r', 'a', 'Enter');
  expect(acts).toBeLessThanOrEqual(3);
  const hats = await hitsOf(page, 'hihat');
  expect(hats.map((said) => /, open/.test(said))).toEqual(
    [...Array(8).keys()].map((i) => i % 2 === 1),
  );
});

/** The open song as its file holds it. */
async function songNow(): Promise<Song> {
  const saving = await downloads(page);
  await keys(page, 'Control+s');
  const { 'song.json': song } = unzipSync(await saving.next());
  return JSON.parse(strFromU8(song)) as Song;
}

/** The steps of a bar at which a piece is struck, in a grid of sixteenths; what lies between has a fraction. */
const stepsIn = ({ strands }: Pattern, piece: string, bar: number) =>
  strands
    .filter((strand) => strand.piece === piece)
    .flatMap(({ hits }) => hits.map(({ at }) => at / STEP - 16 * bar))
    .filter((step) => step >= 0 && step < 16);

/** Rolls the grid with the wheel until a step is well in sight. */
async function scrollTo(piece: string, step: number): Promise<void> {
  await page.mouse.move(600, 400);
  await eventually(
    async () => {
      const steps = await page.$$eval(`[id^="cell-${piece}-"]`, (cells) =>
        cells
          .filter((cell) => {
            const { left, right } = cell.getBoundingClientRect();
            return left > 180 && right < 1030;
          })
          .map((cell) => Number(cell.id.split('-').at(-1))),
      );
      const [first, last] = [Math.min(...steps), Math.max(...steps)];
      const there = step * STEP;
      const by = there < first ? -400 : there > last ? 400 : 0;
      if (by) await page.mouse.wheel({ deltaX: by });
      return by;
    },
    (by) => expect(by).toBe(0),
  );
}

test('one bar to sixteen, no two ends of four alike, the last a fill: at most 12', async () => {
  await beatOfEighths();
  const take = async (bar: number, ...kinds: string[]) => {
    await seesText(page, `The turn: bar ${bar}`);
    const offered = await page.$$eval('[aria-label^="take "]', (all) =>
      all.map((one) => one.getAttribute('aria-label')!),
    );
    const label = offered.find((one) => kinds.some((kind) => one.endsWith(kind)))!;
    await changing(page, () => button(label));
  };
  await key('g', 'g', 'g');
  await take(8, 'opened hat', 'kick pair');
  await key('g');
  await take(16, 'tom run', 'ramped roll');
  await scrollTo('snare', 12 * 16 - 1);
  await pressAt(snare(12 * 16 - 1, 70));
  await scrollTo('crash', 0);
  await pressAt(stepPoint(page, 'crash', 0, 112));
  expect(acts).toBeLessThanOrEqual(12);
  const [pattern] = (await songNow()).patterns;
  expect(pattern.length).toBe(16 * BAR);
  const barOf = (bar: number) =>
    JSON.stringify(
      pattern.strands.map(({ piece, hits }) => [
        piece,
        stepsIn(pattern, piece, bar),
        hits
          .filter(({ at }) => Math.floor(at / BAR) === bar)
          .map(({ articulation }) => articulation),
      ]),
    );
  const ends = [3, 7, 11, 15];
  expect(new Set(ends.map(barOf)).size).toBe(4);
  expect(stepsIn(pattern, 'crash', 0)).toEqual([0]);
  expect(stepsIn(pattern, 'kick', 0)).toContain(0);
  for (const bar of [...Array(16).keys()].slice(1).filter((n) => !ends.includes(n))) {
    expect(stepsIn(pattern, 'crash', bar)).toEqual([]);
    expect(stepsIn(pattern, 'hihat', bar)).toEqual(stepsIn(pattern, 'hihat', 0));
  }
  const drums = ['snare', 'tom-high', 'tom-low-mid', 'tom-high-floor'];
  const fill = drums.flatMap((piece) => stepsIn(pattern, piece, 15)).filter((step) => step >= 12);
  expect(fill.length).toBeGreaterThanOrEqual(3);
});

test('four quick strokes, softer open hats, no crash, and nothing else: at most 6', async () => {
  await beatOfEighths();
  for (const step of [6, 14]) await ctrlPress('hihat', step, 85);
  await keys(page, 'v', 'Escape');
  await press(page, await stepPoint(page, 'crash', 0, 110));
  const [before] = (await songNow()).patterns;
  acts = 0;

  await pressAt(stepPoint(page, 'crash', 0, 110));
  await key('Period');
  await stroke(
    stepPoint(page, 'hihat', 4 * STEP + 120, 80),
    stepPoint(page, 'hihat', 5.5 * STEP, 80),
  );
  for (const step of [6, 14]) await act(ctrlPress('hihat', step, 85));
  const [hat] = (await velocities(page, 'hihat')).slice(-1);
  await stroke(
    stepPoint(page, 'hihat', 14 * STEP, hat),
    stepPoint(page, 'hihat', 14 * STEP, hat - 20),
  );
  expect(acts).toBeLessThanOrEqual(6);

  const [after] = (await songNow()).patterns;
  const said = ({ strands }: Pattern) =>
    strands.flatMap(({ piece, hits }) =>
      hits.map(
        ({ at, velocity, articulation }) => `${piece} ${articulation} ${at / STEP} ${velocity}`,
      ),
    );
  const [gone, come] = [
    said(before).filter((one) => !said(after).includes(one)),
    said(after).filter((one) => !said(before).includes(one)),
  ];
  expect(gone).toEqual(['crash edge 0 110', 'hihat open 6 86', 'hihat open 14 80']);
  expect(come).toEqual([
    ...[4.5, 5, 5.5].map((step) => expect.stringMatching(`^hihat closed ${step} `)),
    'hihat open 6 66',
    'hihat open 14 60',
  ]);
});

test('a row to 100, another 20 % softer, and nothing else: at most 5', async () => {
  await beatOfEighths();
  const [before] = (await songNow()).patterns;
  acts = 0;
  await key('r');
  await page.keyboard.down('Control');
  await stroke(stepPoint(page, 'hihat', 0, 100), stepPoint(page, 'hihat', 15 * STEP, 100));
  await page.keyboard.up('Control');
  const name = await page.waitForSelector('aria/hear Snare[role="button"]');
  const { x, y } = (await name!.boundingBox())!;
  const from = { x: x + 20, y: y + 8 };
  await act(drag(page, [from, { x: from.x, y: from.y + 20 }]));
  const [after] = (await songNow()).patterns;
  const struck = ({ strands }: Pattern, piece: string) =>
    strands.find((strand) => strand.piece === piece)!.hits.map(({ velocity }) => velocity);
  expect(acts).toBeLessThanOrEqual(5);
  expect(struck(after, 'hihat')).toEqual(Array(8).fill(100));
  expect(struck(after, 'snare')).toEqual(struck(before, 'snare').map((v) => Math.round(0.8 * v)));
  expect(struck(after, 'kick')).toEqual(struck(before, 'kick'));
  const places = ({ strands }: Pattern) =>
    strands.map(({ piece, hits }) => [piece, hits.map(({ at, push }) => [at, push])]);
  expect(places(after)).toEqual(places(before));
});

test('kick, ride and crash of three others in one groove, the ride out again, compared as it plays: at most 10', async () => {
  await goTo(page, `${DEMO}/weave`);
  await page.waitForSelector('[data-cloth] canvas');
  const boxOf = async (selector: string) =>
    (await (await page.waitForSelector(selector))!.boundingBox())!;
  const verse = await boxOf('[aria-label=patterns] li:first-child');
  const [before] = (await songNow()).patterns;
  /** Drags what plays a row in a place, near the place's beginning, onto the first pattern of the shelf. */
  const take = async (row: string, place: string) => {
    const name = await boxOf(`[data-cloth] button[title^="choose the ${row} ("]`);
    const header = await boxOf(`[aria-label="sections in order"] button[title^="${place}"]`);
    const from = { x: header.x + 8, y: name.y + name.height / 2 };
    const onto = { x: verse.x + 60, y: verse.y + verse.height / 2 };
    await page.mouse.move(from.x, from.y);
    await page.waitForSelector(`[data-grip][title^="${row} of"]`);
    await changing(page, () => act(drag(page, [from, { ...onto, y: onto.y - 20 }, onto])));
  };
  await take('kick', 'outro');
  await take('ride', 'chorus 1');
  await take('crash', 'bridge');
  const [mixed, ...others] = (await songNow()).patterns;
  await act(page.click('[aria-label=patterns] li:first-child button'));
  await atStage(page, 'shape');
  await button('hear Ride');
  await changing(page, () => key('Shift+Delete'));
  const [after] = (await songNow()).patterns;
  await key('Space');
  await page.waitForSelector('[aria-label=stop]');
  await changing(page, () => key('Control+z'));
  expect((await songNow()).patterns[0]).toEqual(mixed);
  await changing(page, () => key('Control+Shift+z'));
  expect((await songNow()).patterns[0]).toEqual(after);
  await page.waitForSelector('[aria-label=stop]');
  expect(acts).toBeLessThanOrEqual(10);

  const row = (pattern: Pattern, piece: string) =>
    pattern.strands
      .find((strand) => strand.piece === piece)
      ?.hits.map(({ at, velocity }) => [at, velocity]) ?? [];
  const from = (name: string) => others.find((one) => one.name === name)!;
  const sources = { kick: 'Outro, lamp out', ride: 'Chorus, breakers', crash: 'Bridge in seven' };
  for (const [piece, source] of Object.entries(sources)) {
    const within = row(from(source), piece).filter(([at]) => at < mixed.length);
    expect(row(mixed, piece)).toEqual(expect.arrayContaining(within));
    expect(within.length).toBeGreaterThan(0);
  }
  expect(row(after, 'ride')).toEqual([]);
  for (const { piece } of mixed.strands.filter((strand) => strand.piece !== 'ride')) {
    expect(row(after, piece)).toEqual(row(mixed, piece));
  }
  for (const piece of ['hihat', 'snare']) expect(row(after, piece)).toEqual(row(before, piece));
});

test('another groove’s hats for the choruses’ ride: at most 6', async () => {
  await goTo(page, `${DEMO}/gather`);
  await page.waitForSelector('[role=option]');
  await loopOnRibbon(page, 0.2, 0.3);
  await keys(page, 'Slash');
  await page.keyboard.type('disco 4');
  await act(keys(page, 'Enter'));
  await page.waitForSelector('aria/only Hi-hat[role="button"]');
  await button('only Hi-hat');
  await key('t');
  await button('the section that is heard');
  await button('in place of ride');
  await seesText(page, /Hi-hat of .* in place of ride over chorus.*: changes 3 places/);
  await changing(page, () => button('copy'));
  expect(acts).toBeLessThanOrEqual(6);
  await seesText(page, /in place of ride over chorus.*: 3 places changed/);
});

test('a half-time groove near 140 that fits the bass, only its kick: at most 6', async () => {
  await goTo(page, `${DEMO}/gather`);
  await page.waitForSelector('[role=option]');
  await key('Slash');
  await type('half-time 140 bpm');
  await key('Enter');
  await button('fits');
  await act(page.click('[role=option]'));
  await page.waitForSelector('aria/only Kick[role="button"]');
  await button('only Kick');
  expect(acts).toBeLessThanOrEqual(6);
  const fits = await page.$$eval('[role=option]', (rows) =>
    rows.map((row) => Number(row.lastElementChild!.textContent)),
  );
  expect(fits[0]).toBe(Math.max(...fits));
  const chosen = await page.$eval('[role=option][aria-selected=true]', (row) => row.textContent);
  expect(chosen).toMatch(/Half-time/);
});

test('a file of 174 bars without markers into sections: at most 6', async () => {
  await listOfSongs(page);
  const bar = 4 * 96;
  const beat = (n: number, note: number) =>
    [0, 1, 2, 3].flatMap((i) =>
      [42, ...(i % 2 ? [note] : [36])].map((one) => ({
        tick: n * bar + i * 96,
        note: one,
        velocity: 90,
        duration: 12,
        channel: 9,
      })),
    );
  // Verses of sixteen, choruses of eight, and a coda.
  const form = [...Array<number>(174).keys()].map((n) => (n % 24 < 16 ? 38 : 56));
  const bytes = fileOf(
    form.flatMap((note, n) => beat(n, note)),
    { ppq: 96 },
  );
  await act(dropFile(page, 'long.mid', bytes));
  await seesText(page, /cut it into \d+ parts of 2 kinds/);
  await act(page.click('xpath///label[contains(., "parts that repeat")]//input'));
  await drawn(page);
  const open = await page.waitForSelector('xpath///button[.="open as a new song"]');
  await act(open!.click());
  await nothingInFront(page);
  await atStage(page, 'weave');
  expect(acts).toBeLessThanOrEqual(6);
  const heads = () =>
    page.$$eval('[aria-label="sections in order"] button', (all) => all.map((b) => b.textContent));
  await eventually(heads, (names) => expect(names.length).toBeGreaterThan(12));
  expect((await heads()).slice(0, 3).map((name) => name!.slice(0, 1))).toEqual(['A', 'B', 'A']);
});

/** Everything of a song's pattern that is heard, by piece. */
const heardIn = ({ strands }: Pattern) =>
  new Map(
    strands.map(({ piece, hits }) => [
      piece,
      hits.map(({ at, push, velocity, articulation }) => [at, push ?? 0, velocity, articulation]),
    ]),
  );

test('the kit split by piece, the hats quantized by themselves, all on one track again: at most 6', async () => {
  await goTo(page, `${DEMO}/balance`);
  const before = await songNow();
  await button('by piece');
  await key('Alt+2');
  await atStage(page, 'shape');
  await button('hear Hi-hat');
  await changing(page, () => key('q'));
  const split = await songNow();
  await key('Alt+4');
  await atStage(page, 'balance');
  await changing(page, () => button('one track'));
  expect(acts).toBeLessThanOrEqual(6);

  const after = await songNow();
  expect([split.layout, after.layout]).toEqual(['pieces', 'one']);
  // All that was said of the song is as it was, but for the hats of the pattern that was shown.
  const names = ({ patterns }: Song) => patterns.map(({ name, length }) => [name, length]);
  expect(names(after)).toEqual(names(before));
  expect(after.patterns.slice(1)).toEqual(before.patterns.slice(1));
  const [played, straight] = [before, after].map(({ patterns }) => heardIn(patterns[0]));
  expect(straight.get('hihat')).toEqual(
    played.get('hihat')!.map(([at, , ...rest]) => [at, 0, ...rest]),
  );
  expect(played.get('hihat')!.some(([, push]) => push !== 0)).toBe(true);
  for (const [piece, hits] of played) {
    if (piece !== 'hihat') expect([piece, straight.get(piece)]).toEqual([piece, hits]);
  }
});

test('snare every second time, open hat every third, and a file a piece of all of it: at most 8', async () => {
  await beatOfEighths();
  await press(page, await stepPoint(page, 'ride', 14 * STEP, 90));
  acts = 0;
  await button('hear Snare');
  await key('Shift+Digit2');
  await button('hear Ride');
  await key('Shift+Digit3');
  await seesText(page, 'heard in full after 6 times');
  await key('Alt+5');
  await button('audio');
  await act(page.click('aria/one file per track (by piece)'));
  await seesText(page, 'pattern: First beat');
  const saved = await downloads(page);
  await act(write(page));
  expect(acts).toBeLessThanOrEqual(8);

  const files = unzipSync(await saved.next());
  const { bpm } = await songNow();
  const bar = (4 * 60) / bpm;
  /** In which of the six times a file has a stroke at a step, by the sound just after it. */
  const timesOf = (piece: string, step: number) => {
    const name = Object.keys(files).find((one) => one.endsWith(`${piece}.wav`))!;
    const sound = soundOf(files[name]);
    const rate = 48_000;
    expect(sound.length / rate).toBeGreaterThanOrEqual(6 * bar - 1e-3);
    return [...Array(6).keys()].filter((time) => {
      const from = Math.round((time + step / 16) * bar * rate);
      const before = sound.slice(Math.max(0, from - 960), from);
      const loudest = (part: Float32Array) => part.reduce((a, b) => Math.max(a, Math.abs(b)), 0);
      return loudest(sound.slice(from, from + 960)) > 2 * loudest(before) + 1e-3;
    });
  };
  expect(timesOf('Kick', 0)).toEqual([0, 1, 2, 3, 4, 5]);
  expect(timesOf('Snare', 4)).toEqual([0, 2, 4]);
  expect(timesOf('Ride', 14)).toEqual([0, 3]);
});

test('handed over: stems beside the bus, a MIDI file a piece, and a chart, in one folder: at most 11', async () => {
  const inFolder = await folderOf(page);
  await beatOfEighths();
  await keys(page, 'Alt+5');
  acts = 0;
  const preset = async (name: string) => {
    await act((await named(page, 'export preset')).click());
    await act((await page.waitForSelector(`aria/${name}[role="option"]`))!.click());
  };
  await preset('to a session, one track a piece');
  await act(page.click('aria/each track as a file of its own'));
  await act((await named(page, 'packed')).click());
  await act((await page.waitForSelector('aria/into a folder[role="option"]'))!.click());
  await act(write(page));
  await seesText(page, /3 files were written into “out”/);
  await preset('stems for a mix');
  await act(write(page));
  await seesText(page, /5 files were written into “out”/);
  await button('chart');
  await act(write(page));
  await seesText(page, /One file was written into “out”/);
  expect(acts).toBeLessThanOrEqual(11);

  const files = (await inFolder()).map(([path]) => path);
  expect(files).toHaveLength(9);
  const [pattern] = (await songNow()).patterns;
  for (const [name, piece] of [
    ['Kick', 'kick'],
    ['Snare', 'snare'],
    ['Hi-hat', 'hihat'],
  ]) {
    const path = (end: string) => files.find((one) => one.includes(name) && one.endsWith(end))!;
    const midi = parseMidi(await bytesIn(page, path('.mid')));
    const ticks = midi.tracks.flatMap((track) => {
      let at = 0;
      return track.flatMap((event) => {
        at += event.deltaTime;
        return event.type === 'noteOn' && event.velocity > 0 ? [at] : [];
      });
    });
    const { hits } = pattern.strands.find((strand) => strand.piece === piece)!;
    expect(ticks).toEqual(hits.map(({ at }) => at));
    expect(soundOf(await bytesIn(page, path('.wav'))).some((x) => Math.abs(x) > 0.02)).toBe(true);
  }
});
