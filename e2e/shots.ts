import { writeFileSync } from 'node:fs';
import type { Browser, Page } from 'puppeteer-core';
import { renderMix } from '../src/core/engine';
import { demoSongs } from '../src/demo';
import {
  changing,
  carryFiles,
  chooseFromMenu,
  DEMO,
  drag,
  goTo,
  HOME,
  keys,
  launch,
  loopOnRibbon,
  named,
  openPage,
  press,
  drawn,
  dropFile,
  eventually,
  pressButton,
  seesText,
  stepPoint,
  onDisk,
  saved,
  wavOf,
} from './browser';

const FOLDER = 'docs/screenshots';

/** Retakes the pictures of the README, from the demo data. */
export async function main(): Promise<void> {
  const browser = await launch();
  const { page } = await openPage(browser);
  const shot = async (name: string) => {
    await quiet(page);
    await page.screenshot({ path: `${FOLDER}/${name}.png` as `${string}.png` });
  };
  /** The same in both schemes, side by side. */
  const both = async (name: string) => {
    const sides: string[] = [];
    for (const one of ['light', 'dark'] as const) {
      await scheme(page, one);
      await quiet(page);
      sides.push(await page.screenshot({ encoding: 'base64' }));
    }
    await scheme(page, 'light');
    writeFileSync(`${FOLDER}/${name}.png`, await sideBySide(browser, sides));
  };
  /** Several views of one stage, side by side. */
  const beside = async (name: string, views: readonly (() => Promise<void>)[]) => {
    const sides: string[] = [];
    for (const show of views) {
      await show();
      await quiet(page);
      sides.push(await page.screenshot({ encoding: 'base64' }));
    }
    writeFileSync(`${FOLDER}/${name}.png`, await sideBySide(browser, sides));
  };
  await page.waitForSelector('li canvas');
  await seesText(page, 'the bin is empty');
  await shot('songs');

  await gathering(page, shot);

  await goTo(page, `${DEMO}/shape`);
  await page.waitForSelector('[role=gridcell]');
  await shot('shape');
  await selectGhosts(page);
  await scheme(page, 'dark');
  await shot('shape-dark');
  await scheme(page, 'light');
  await growing(page);
  await shot('shape-turn');
  await keys(page, 'Escape');

  await page.goto(`${HOME}/?demo=fresh`);
  await page.waitForSelector('li canvas');
  await goTo(page, `${DEMO}/weave`);
  await seesText(page, /repeated bars \d+/);
  await page.click('[aria-label="sections in order"] [role=listitem]:nth-child(2) button');
  await shot('weave');
  await weaving(page, shot);

  await goTo(page, `${DEMO}/balance`);
  await balancing(page);
  await saved(page);
  await both('balance');
  await layering(page);
  await saved(page);
  await both('piece');
  await keys(page, 'z');
  await page.waitForSelector('[aria-label="notes of strokes"]');
  await both('note-map');
  await keys(page, 'Escape');
  await dropFile(page, 'boathouse.wav', boathouse());
  await page.waitForSelector('aria/hear slice 8');
  await page.waitForSelector('[role=dialog] [data-drawn]');
  await both('loop');
  await keys(page, 'Escape');

  await goTo(page, `${DEMO}/deliver`);
  await beside('deliver', [
    async () => {
      await choose(page, 'what', 'each section, a file each');
      await choose(page, 'tracks', 'as in Balance: by piece (type 1)');
      await seesText(page, '09 outro.mid');
    },
    async () => {
      await pressButton(page, 'audio');
      await choose(page, 'what', 'section: chorus 1');
      await page.click('aria/one file per track (by piece)');
      await seesText(page, /Kick\.wav/);
      await page.$$eval('button', (all) =>
        all.find((one) => /^write \d+ files$/.test(one.innerText))?.click(),
      );
      await seesText(page, /files were saved/);
      await page.$$eval('tr button', (all) =>
        all.find((one) => /Snare/.test(one.textContent ?? ''))?.click(),
      );
      await page.waitForSelector('[aria-label="its waveform"][data-drawn]');
    },
  ]);
  await beside('chart', [
    async () => {
      await pressButton(page, 'chart');
      await choose(page, 'what', 'the whole song');
      await page.waitForSelector('[data-drawn] .vf-stavenote');
    },
    async () => {
      await choose(page, 'density', 'slashes, with cues');
      // What is as before stands where its section begins again.
      await pressButton(page, 'Saltmarsh Signal, page 2.svg');
      await seesText(page, 'as before');
    },
  ]);

  await page.goto(HOME);
  await page.waitForSelector('li canvas');
  await drafting(page);
  await shot('draft');
  await browser.close();
}

/** Chooses from a menu by its name. */
async function choose(page: Page, field: string, option: string): Promise<void> {
  await (await named(page, field)).click();
  await (await page.waitForSelector(`aria/${option}[role="option"]`))!.click();
}

/** Pictures beside each other in one. */
async function sideBySide(browser: Browser, pictures: readonly string[]): Promise<Buffer> {
  const page = await browser.newPage();
  const url = await page.evaluate(async (sides) => {
    const images = await Promise.all(
      sides.map(async (side) => {
        const image = new Image();
        image.src = `data:image/png;base64,${side}`;
        await image.decode();
        return image;
      }),
    );
    const [{ width, height }] = images;
    const canvas = Object.assign(document.createElement('canvas'), {
      width: width * images.length,
      height,
    });
    images.forEach((image, i) => canvas.getContext('2d')!.drawImage(image, i * width, 0));
    return canvas.toDataURL('image/png');
  }, pictures);
  await page.close();
  return Buffer.from(url.split(',')[1], 'base64');
}

/** Waits until nothing moves: no transition runs and two looks at the page are the same. */
async function quiet(page: Page): Promise<void> {
  let before = '';
  await eventually(
    async () => {
      await drawn(page);
      const running = await page.evaluate(
        () => document.getAnimations().filter((a) => a.playState === 'running').length,
      );
      const now = await page.evaluate(() => document.querySelector('main')!.innerHTML);
      const same = now === before && running === 0;
      before = now;
      return same;
    },
    (still) => {
      if (!still) throw new Error('it still moves');
    },
    3000,
    // While it plays it never stands still.
  ).catch(() => {});
}

async function selectGhosts(page: Page): Promise<void> {
  await page.keyboard.down('Shift');
  const from = await stepPoint(page, 'snare', 3840 + 240 * 3, 127);
  const to = await stepPoint(page, 'snare', 3840 + 240 * 15, 1);
  await drag(page, [from, { x: to.x + 14, y: to.y }]);
  await page.keyboard.up('Shift');
}

/** A groove of the library in place of the chorus, and its kick on the way there. */
async function gathering(page: Page, shot: (name: string) => Promise<void>): Promise<void> {
  await goTo(page, `${DEMO}/gather`);
  await page.waitForSelector('[role=option]');
  await loopOnRibbon(page, 0.2, 0.305);
  await pressButton(page, 'fits');
  await keys(page, 'Slash');
  await page.keyboard.type('4/4 groove');
  await keys(page, 'Enter');
  await keys(page, 'k', 'x', '4', 'ArrowDown');
  await page.waitForSelector('button[aria-label=stop]');
  await page.mouse.move(900, 80);
  await shot('gather');
  await pressButton(page, 'only Kick');
  await keys(page, 't');
  await shot('take');
  await keys(page, 'Escape', 'Space');
  await page.goto(`${HOME}/?demo=fresh`);
  await page.waitForSelector('li canvas');
}

/** The views of Weave: reach, what comes twice, what nobody plays, a strand beside the bass, then and now. */
async function weaving(page: Page, shot: (name: string) => Promise<void>): Promise<void> {
  await page.click('[aria-label="sections in order"] [role=listitem]:nth-child(3) button');
  await pressButton(page, 'Kick');
  await shot('weave-reach');
  await keys(page, 'Escape', 'g');
  await page.waitForSelector('[role=option][aria-selected=true]');
  await shot('weave-same');
  await page.click('[aria-label="sections in order"] [role=listitem]:nth-child(3) button');
  await keys(page, 'j');
  await page.waitForSelector('section[aria-label=fit] canvas');
  await shot('weave-fit');
  await keys(page, 'j');
  await page.click('[aria-label="sections in order"] [role=listitem]:nth-child(3) button');
  await keys(page, 'e');
  for (const piece of ['crash', 'tom-high-floor']) {
    await changing(page, async () => press(page, await stepPoint(page, piece, 3840 + 960)));
  }
  await keys(page, 'Alt+3');
  await seesText(page, /\d+ not playable/);
  await keys(page, 'y');
  await page.waitForSelector('[role=option][aria-selected=true]');
  await shot('weave-playable');
  await keys(page, 'y', 'Control+z', 'Control+z', 'Alt+Shift+s');
  await page.waitForSelector('[aria-label="save points"] li');
  await page.click('[aria-label="save points"] li:nth-child(2) button.MuiButton-root');
  await page.waitForSelector('[aria-label="what differs"] li');
  await shot('compare');
  await keys(page, 'Escape');
  await page.click('[aria-label="sections in order"] [role=listitem]:nth-child(2) button');
}

async function growing(page: Page): Promise<void> {
  await page.focus('[role=grid]');
  await chooseFromMenu(page, 'k', '0');
  await keys(page, 'g', 'y');
}

function scheme(page: Page, value: 'light' | 'dark'): Promise<void> {
  return page.emulateMediaFeatures([{ name: 'prefers-color-scheme', value }]);
}

/** A mix that was begun: hats together, the snare in the room, the ride softer in the verses. */
async function balancing(page: Page): Promise<void> {
  await page.click('[data-track="hihat"] > div');
  await keys(page, ...new Array<string>(4).fill('ArrowLeft'), 'Shift+ArrowLeft', 'Shift+ArrowLeft');
  await page.click('[data-track="tambourine"] > div');
  await keys(page, ...new Array<string>(9).fill('ArrowLeft'), 'e', 'e', 'e', 'Shift+ArrowRight');
  await page.click('[data-track="crash"] > div');
  await keys(page, ...new Array<string>(3).fill('ArrowLeft'), 'r', 'r');
  await page.click('[data-track="ride"] > div');
  const verse = await page.waitForSelector('aria/level of Ride in bridge[role="slider"]');
  await verse!.focus();
  for (let i = 0; i < 12; i++) await page.keyboard.press('ArrowLeft');
  await page.click('[data-track="snare"] > div');
  await keys(page, 'ArrowLeft', 'ArrowLeft', 'r', 'r', 'r', 'r');
  for (const [band, ...moves] of [
    ['cut', ...new Array<string>(24).fill('ArrowRight')],
    ['low', 'ArrowRight', 'ArrowRight', ...new Array<string>(8).fill('ArrowUp')],
    ['mid', ...new Array<string>(9).fill('ArrowDown')],
    ['high', ...new Array<string>(6).fill('ArrowUp')],
  ]) {
    const handle = await page.waitForSelector(`aria/${band} of Snare[role="slider"]`);
    await handle!.evaluate((band) => (band as unknown as SVGElement).focus());
    for (const move of moves) await page.keyboard.press(move as 'ArrowUp');
  }
}

/** A sound file on the snare, beside its own sound. */
async function layering(page: Page): Promise<void> {
  await page.click('[data-track="snare"] > div');
  await keys(page, 'Enter');
  const zone = await page.waitForSelector('[data-drop-files=snare]');
  await zone!.evaluate((element) => element.scrollIntoView());
  const lid = Float32Array.from(
    { length: 24_000 },
    (_, i) => 0.8 * Math.sin(i / 7 + 3 * Math.sin(i / 11)) * Math.exp(-i / 4000),
  );
  const carried = await carryFiles(page, [onDisk('tin lid.wav', wavOf(lid))]);
  const at = { x: 1130, y: 400 };
  await carried.over(at);
  const box = (await (await page.waitForSelector('[data-drop-how=layer]'))!.boundingBox())!;
  const layer = { x: box.x + box.width / 2, y: Math.min(660, box.y + box.height / 2) };
  await carried.over(layer);
  await carried.drop(layer);
  await seesText(page, 'plays the file');
  await pressButton(page, 'put away');
  await page.click('[data-layer] [aria-expanded]');
  await page.waitForSelector('[data-layer] [data-drawn]');
  await page.$eval('[data-drop-files=snare]', (element) => element.scrollIntoView());
}

/** Two bars of the demo, as someone might have recorded them. */
function boathouse(): Uint8Array {
  const bar = 240 / 104;
  const song = { ...demoSongs()[0], guides: [] };
  return wavOf(renderMix(song, { from: 6 * bar, to: 8 * bar }).left);
}

/** A song of a form alone, drafted: its line, what is wished of its chorus, and why there is a fill. */
async function drafting(page: Page): Promise<void> {
  await pressButton(page, 'new song');
  await page.waitForSelector('[role=gridcell]');
  await goTo(page, `${new URL(page.url()).pathname.replace(/\/shape$/, '')}/weave`);
  await keys(page, 'w');
  await page.keyboard.type(
    'intro 4, verse 8, chorus 8, verse 8, chorus 8, bridge 7/8 x 6, verse 8, chorus 8, outro 4',
  );
  await changing(page, () => keys(page, 'Enter'));
  await keys(page, 'Shift+d');
  await changing(page, () => keys(page, 'Shift+e'));
  await seesText(page, /drafted (\d+) of \1 bars/);
  await page.click('[aria-label="sections in order"] [role=listitem]:nth-child(3) button');
  await pressButton(page, 'chorus');
  const cloth = (await (await page.$('[data-cloth] canvas'))!.boundingBox())!;
  await page.mouse.click(cloth.x + cloth.width * 0.187, cloth.y + cloth.height * 0.42);
  await seesText(page, 'Why this');
  await keys(page, 'Space');
}
