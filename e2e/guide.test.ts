/** @about shell */
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'puppeteer-core';
import {
  atStage,
  drawn,
  drawRising,
  freshPages,
  HOME,
  keys,
  listOfSongs,
  named,
  nothingInFront,
  pressButton,
  seesText,
} from './browser';

const FOLDER = path.resolve('docs/guide');
const pages = readdirSync(FOLDER).filter((name) => name.endsWith('.md'));

const bench = freshPages();
beforeEach(() => listOfSongs(bench.page));

/** What a sentence of the guide asks a reader to do, and how it is done. */
type Doing = readonly [says: RegExp, run: (page: Page, ...words: string[]) => Promise<unknown>];

const DOINGS: readonly Doing[] = [
  [/the key `([^`]+)`/g, (page, key) => keys(page, keyNamed(key))],
  [/type `([^`]+)`/g, (page, text) => page.keyboard.type(text)],
  [/open \*\*([^*]+)\*\*/g, open],
  [/[Gg]o to \*\*([^*]+)\*\*/g, go],
  [/[Pp]ress \*\*([^*]+)\*\*/g, pressNamed],
  [
    /[Dd]raw a rising line over \*\*([^*]+)\*\*/g,
    (page, name) => drawRising(page, `[aria-label="${name}"]`),
  ],
  [/[Yy]ou see \*\*([^*]+)\*\*/g, (page, text) => seesText(page, text)],
];

/** A key as the guide writes it, as the browser names it. */
const keyNamed = (key: string) =>
  key
    .replaceAll(' ', '+')
    .replace('Ctrl', 'Control')
    .replace(/\b(Up|Down|Left|Right)$/, 'Arrow$1');

async function open(page: Page, song: string): Promise<void> {
  await (await named(page, `open ${song}`)).click();
  await page.waitForSelector('[data-work]');
  await nothingInFront(page);
}

async function go(page: Page, stage: string): Promise<void> {
  await page.waitForSelector('nav[aria-label=stages] a');
  const links = await page.$$('nav[aria-label=stages] a');
  const names = await Promise.all(links.map((link) => link.evaluate((one) => one.textContent)));
  await links[names.indexOf(stage.toLowerCase())].click();
  await atStage(page, stage.toLowerCase());
}

async function pressNamed(page: Page, name: string): Promise<void> {
  await pressButton(page, name);
  if (name === 'new song') await atStage(page, 'shape');
}

/** The steps of a page: its numbered items, in order, by the heading they stand under. */
function chaptersOf(text: string): string[][] {
  return text
    .split(/^## /m)
    .slice(1)
    .map((chapter) => [...chapter.matchAll(/^\d+\. (.+)$/gm)].map(([, step]) => step))
    .filter((steps) => steps.length > 0);
}

/** Everything that a step asks for, in the order in which it is said. */
function doingsOf(step: string) {
  return DOINGS.flatMap(([says, run]) =>
    [...step.matchAll(says)].map((found) => ({ at: found.index, run, words: found.slice(1) })),
  ).sort((a, b) => a.at - b.at);
}

test.each(pages)('the steps of %s can be followed as they are written', async (file) => {
  const { page } = bench;
  const chapters = chaptersOf(readFileSync(path.join(FOLDER, file), 'utf8'));
  expect(chapters.length).toBeGreaterThan(0);
  for (const steps of chapters) {
    for (const step of steps) {
      const doings = doingsOf(step);
      // A step that asks for nothing is no step.
      expect([step, doings.length]).toEqual([step, expect.any(Number)]);
      expect(doings.length).toBeGreaterThan(0);
      for (const { run, words } of doings) {
        await run(page, ...words);
        await drawn(page);
      }
    }
  }
});

test('F1 opens the guide, each page with its pictures, beside the keys', async () => {
  const { page } = bench;
  await keys(page, 'F1');
  for (const [name, says] of [
    ['Ten minutes', 'From an empty song'],
    ['Gather', 'find grooves'],
    ['Shape', 'write and change a pattern'],
    ['Weave', 'put the song together'],
    ['Balance', 'sounds and levels'],
    ['Deliver', 'what leaves'],
  ]) {
    await (await page.waitForSelector(`[role=tab]::-p-text(${name})`))!.click();
    await page.waitForFunction(
      (words) => {
        const shown = document.querySelector('[data-guide]');
        const picture = shown?.querySelector('img');
        return shown?.textContent?.includes(words) && picture?.complete && picture.naturalWidth > 0;
      },
      {},
      says,
    );
  }
  await (await page.waitForSelector('aria/all keys (?)'))!.click();
  await seesText(page, 'Keys and strokes');
});

test('a first visit goes on to the demo and its tour, once', async () => {
  const context = await bench.browser.createBrowserContext();
  const page = await context.newPage();
  await page.goto(HOME);
  await atStage(page, 'weave');
  expect(new URL(page.url()).pathname).toBe('/song/demo-saltmarsh/weave');
  for (let step = 1; step <= 7; step++) {
    await seesText(page, `${step} of 7`);
    await (await page.waitForSelector('.driver-popover-next-btn'))!.click();
  }
  await page.waitForFunction(() => !document.querySelector('.driver-popover'));
  const chosen = await page.$eval(
    '[aria-label="sections in order"] [aria-pressed=true]',
    (one) => one.textContent,
  );
  expect(chosen).toMatch(/chorus 2/);
  // Here it is not the first visit any more.
  await page.goto(HOME);
  await listOfSongs(page);
  expect(new URL(page.url()).pathname).toBe('/');
  expect(await page.$('.driver-popover')).toBeNull();
  await context.close();
});
