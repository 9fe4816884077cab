/** @about stages/shape stages/gather */
import type { Page } from 'puppeteer-core';
import { fileOf } from '../src/core/testing/arbitraries';
import {
  atStage,
  changing,
  DEMO,
  drag,
  drawn,
  dropFile,
  eventually,
  freshPages,
  goTo,
  hitsOf,
  listOfSongs,
  keys,
  loopOnRibbon,
  newSong,
  nothingInFront,
  press,
  pressButton,
  seesText,
  stepPoint,
  velocities,
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
  await changing(page, () => button('take'));
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
