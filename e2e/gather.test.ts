/** @about stages/gather */
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import type { Page } from 'puppeteer-core';
import { fileOf } from '../src/core/testing/arbitraries';
import {
  atStage,
  changing,
  DEMO,
  drag,
  dropPaths,
  eventually,
  goTo,
  hears,
  HOME,
  keys,
  listOfSongs,
  loopOnRibbon,
  named,
  nothingInFront,
  pressButton,
  recordOutput,
  saved,
  seesText,
  freshPages,
} from './browser';

const bench = freshPages(recordOutput);
let page: Page;
beforeEach(async () => {
  page = bench.page;
  await goTo(page, `${DEMO}/gather`);
});

const chosen = () =>
  page.$eval('[role=option][aria-selected=true]', (row) => row.textContent!).catch(() => '');
const count = () => seesText(page, /[\d,]+ of [\d,]+ grooves/);
const tab = (name: string) =>
  page.$$eval(
    '[role=tab]',
    (tabs, start) => tabs.find((t) => t.textContent!.startsWith(start))!.textContent!,
    name,
  );

const beat = (seed: number, channel = 9) =>
  fileOf(
    Array.from({ length: 16 }, (_, i) => ({
      tick: i * 24 + ((seed * i) % 3),
      note: [36, 42, 38, 42][i % 4],
      velocity: 40 + ((i * 7 + seed * 5) % 80),
      duration: 10,
      channel,
    })),
    { ppq: 96 },
  );

/** Made files: a beat each, some broken, one twice, one without drums. */
function madeFiles(n: number): { name: string; bytes: Uint8Array }[] {
  const files = Array.from({ length: n }, (_, i) => ({
    name: `pier/beat ${i + 1}.mid`,
    bytes: beat(i + 1),
  }));
  return [
    ...files,
    { name: 'pier/again.mid', bytes: beat(1) },
    { name: 'pier/bass only.mid', bytes: beat(45, 0) },
    { name: 'pier/cut.mid', bytes: beat(4).slice(0, 20) },
    { name: 'pier/empty.mid', bytes: new Uint8Array() },
    { name: 'pier/no midi.mid', bytes: new TextEncoder().encode('<b>not</b> a midi file') },
  ];
}

/** Gives the field for loose files these files. */
function addFiles(files: { name: string; bytes: Uint8Array }[]): Promise<void> {
  return page.evaluate(
    (given) => {
      const transfer = new DataTransfer();
      for (const { name, base64 } of given) {
        const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
        transfer.items.add(new File([bytes], name, { lastModified: 1000 }));
      }
      const field = document.querySelector<HTMLInputElement>('[aria-label="add files or a zip"]')!;
      field.files = transfer.files;
      field.dispatchEvent(new Event('change', { bubbles: true }));
    },
    files.map(({ name, bytes }) => ({ name, base64: Buffer.from(bytes).toString('base64') })),
  );
}

describe('the library', () => {
  test('is there, and is searched, filtered and sorted', async () => {
    const all = Number(/of (\d+)/.exec(await count())![1]);
    expect(all).toBeGreaterThanOrEqual(30 * 26);
    await keys(page, 'Slash');
    await page.keyboard.type('one-drop fill');
    await seesText(page, `6 of ${all} grooves`);
    await keys(page, 'Escape');
    await seesText(page, `${all} of ${all} grooves`);
    await pressButton(page, 'complexity');
    const busy = () =>
      page.$$eval('[role=option]', (rows) =>
        rows.map((row) => Number(row.children[5].textContent)),
      );
    await eventually(busy, (seen) => expect(seen).toEqual([...seen].sort((a, b) => a - b)));
    await keys(page, 'Control+k');
    await page.keyboard.type('filter by without');
    await keys(page, 'Enter');
    await (await page.waitForSelector('aria/Kick[role="option"]'))!.click();
    await eventually(count, (said) => expect(said).not.toMatch(new RegExp(`^${all} of`)));
  });

  test('gives one groove, and nothing outside of it', async () => {
    const asked = (path: string) =>
      page.evaluate(async (url) => (await fetch(url)).status, `/api/library/${path}`);
    expect(await asked('shipped/funk/on-the-one')).toBe(200);
    expect(await asked('..%2F..%2Fpackage.json')).toBe(404);
    expect(await asked('shipped/%2Fetc%2Fpasswd')).toBe(404);
    bench.errors.length = 0;
  });
});

/** Searches, and hears the first groove of what is found. */
async function search(words: string): Promise<void> {
  await keys(page, 'Slash');
  await page.keyboard.type(words);
  await keys(page, 'Enter');
  await page.waitForSelector('[aria-label="strands of the groove"] canvas');
}

/** Waits until what a tab says has changed. */
const tabSays = (name: string, text: string) =>
  eventually(
    () => tab(name),
    (seen) => expect(seen).toBe(text),
  );

const playing = () => page.waitForSelector('button[aria-label=stop]');

describe('candidates for the chorus', () => {
  test('twenty are heard in place with arrow keys, kept or passed with single keys', async () => {
    await loopOnRibbon(page, 0.2, 0.3);
    await seesText(page, 'in place of the drums of chorus 1');
    await search('rock');
    await playing();
    await hears(page);
    await keys(page, 'Escape', 'Alt+f');
    await search('4/4 groove');
    const seen = new Set<string>();
    for (let n = 0; n < 20; n++) {
      await page.waitForSelector('[aria-label="strands of the groove"] canvas');
      const now = await chosen();
      seen.add(now);
      await keys(page, n % 7 === 3 ? 'k' : 'x');
      await page.waitForFunction(
        (before) =>
          document.querySelector('[role=option][aria-selected=true]')?.textContent !== before,
        {},
        now,
      );
    }
    expect(seen.size).toBe(20);
    await tabSays('shelf', 'shelf 15');
    await tabSays('offcuts', 'offcuts 17');
    await playing();
    // With and without, while it plays.
    await keys(page, 'Control+z', 'Control+z');
    await tabSays('offcuts', 'offcuts 15');
    await keys(page, 'Control+y', 'Control+y');
    await tabSays('offcuts', 'offcuts 17');
    await playing();
  });

  test('what was passed is recovered, and the rest stays', async () => {
    await search('rock');
    for (const count of ['1', '2', '3']) {
      await keys(page, 'x');
      await tabSays('offcuts', `offcuts ${count}`);
    }
    await keys(page, 'Shift+3');
    const first = await page.waitForSelector('[aria-label=offcuts] button[aria-label^=recover]');
    await changing(page, () => first!.click());
    await tabSays('offcuts', 'offcuts 2');
    await changing(page, () => keys(page, 'Control+z'));
    await tabSays('offcuts', 'offcuts 3');
  });

  test('the kick of one and the ride of another go onto the chorus, in all its places', async () => {
    await loopOnRibbon(page, 0.2, 0.3);
    await seesText(page, 'in place of the drums of chorus 1');
    await search('straight rock 5');
    await pressButton(page, 'only Kick');
    await keys(page, 't');
    await pressButton(page, 'the section that is heard');
    await seesText(page, /Kick of “Straight rock 5.*over chorus, \d times over: changes 3 places/);
    await changing(page, () => pressButton(page, 'copy'));
    await nothingInFront(page);
    await keys(page, 'Alt+f');
    await search('bossa ride');
    await page.waitForSelector('aria/only Ride[role="button"]');
    await changing(page, () => dragStrandOnto('only Ride', 0.25));
    await keys(page, 'Alt+3');
    await atStage(page, 'weave');
    const cards = await page.waitForSelector('[aria-label="sections in order"]');
    await (await cards!.$$('button'))[2].click();
    await seesText(page, /bars 1 to 8, kick only/);
    await seesText(page, /bars 1 to 8, ride only/);
    const text = () => page.evaluate(() => document.body.innerText);
    await changing(page, () => keys(page, 'Control+z'));
    await changing(page, () => keys(page, 'Control+z'));
    await eventually(text, (seen) => expect(seen).not.toMatch(/ride only/));
    await changing(page, () => keys(page, 'Control+y'));
    await changing(page, () => keys(page, 'Control+y'));
    await seesText(page, /bars 1 to 8, ride only/);
    await saved(page);
  });
});

/** Drags a strand onto the ribbon, at a share of its width. */
async function dragStrandOnto(name: string, share: number): Promise<void> {
  const from = (await (await named(page, name)).boundingBox())!;
  const to = (await (await page.waitForSelector('[data-ribbon]'))!.boundingBox())!;
  const end = { x: to.x + to.width * share, y: to.y + 30 };
  await drag(page, [
    { x: from.x + from.width / 2, y: from.y + from.height / 2 },
    { x: end.x, y: end.y - 60 },
    end,
  ]);
}

describe('files of one’s own', () => {
  test('are read, and each that is not listed has its reason', async () => {
    await addFiles(madeFiles(30));
    const said = await seesText(page, /\d+ new grooves.*\./);
    expect(said).toMatch(
      /30 new grooves, 1 with the same hits as another, 4 that could not be read/,
    );
    const reasons = await page.$$eval('[aria-label="files that are not listed"] li', (rows) =>
      rows.map((row) => row.textContent!),
    );
    expect(reasons).toHaveLength(5);
    expect(reasons.join('\n')).toMatch(/bass only.*none of them are drums/);
    expect(reasons.join('\n')).toMatch(/empty.mid: It is empty/);

    // What has notes and no drums is taken once it is said which of them are.
    await pressButton(page, 'choose its drums …');
    await seesText(page, 'Which note is which drum in');
    await (await named(page, 'drums are on channel')).click();
    const channel = await page.waitForSelector(
      '::-p-xpath(//*[@role="option"][starts-with(., "1:")])',
    );
    await channel!.click();
    await pressButton(page, 'read them like this');
    await seesText(page, /was read again: \d+ grooves?/);
    await nothingInFront(page);
    await search('bass only');
    await seesText(page, /^1 of /m);
  });

  test('are there after a reload, and reading them again touches nothing', async () => {
    await addFiles(madeFiles(30));
    await seesText(page, /30 new grooves/);
    await goTo(page, `${DEMO}/gather`);
    await search('beat 17');
    await seesText(page, /1 of [\d,]+ grooves/);
    await page.waitForSelector('aria/only Kick[role="button"]');
    await addFiles(madeFiles(30));
    await seesText(page, /0 new grooves, 0 with the same hits.*35 unchanged/);
    await pressButton(page, 'close');
  });

  test('come out of a zip too, but for names that lead out of it', async () => {
    const [one, two] = madeFiles(42).slice(40);
    const bytes = zipSync({
      'mole/één ritme.mid': one.bytes,
      '../../etc/passwd.mid': two.bytes,
      'read me.txt': new TextEncoder().encode('HH |x-x-x-x-|'),
    });
    await addFiles([{ name: 'drums.zip', bytes }]);
    await seesText(page, /2 new grooves/);
    await seesText(page, 'leads out of its zip and was refused');
    await pressButton(page, 'close');
    await addFiles([{ name: 'cut.zip', bytes: bytes.slice(0, 60) }]);
    await seesText(page, 'is no zip that can be read');
    await pressButton(page, 'close');
  });
});

test('a folder that is dropped on the songs is read, with its progress and what came of it', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'verse-loom-folder-'));
  mkdirSync(join(folder, 'cove/deep'), { recursive: true });
  writeFileSync(join(folder, 'cove/one.mid'), beat(21));
  writeFileSync(join(folder, 'cove/deep/two.mid'), beat(22));
  writeFileSync(join(folder, 'cove/picture.png'), 'no music');
  await page.goto(HOME, { waitUntil: 'load' });
  await listOfSongs(page);
  await dropPaths(page, [join(folder, 'cove')]);
  await seesText(page, '“cove” is read');
  await keys(page, 'Escape');
  await goTo(page, `${DEMO}/gather`);
  await search('deep two');
  await seesText(page, /^1 of /m);
});

test('strands are dropped on the shelf while they are carried', async () => {
  await search('disco 4');
  const name = await page.waitForSelector('aria/only Kick[role="button"]');
  const { x, y } = (await name!.boundingBox())!;
  await page.mouse.move(x + 10, y + 8);
  await page.mouse.down();
  await page.mouse.move(x + 30, y + 60, { steps: 5 });
  const strip = await page.waitForSelector('[aria-label="onto the shelf"]');
  const box = (await strip!.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2, { steps: 8 });
  await seesText(page, /kick of “Disco 4.*onto the shelf/);
  await changing(page, () => page.mouse.up());
  await seesText(page, /Disco 4.*, kick” is on the shelf/);
});

test('bars are cut out by number, and what is dropped on the chorus is the cut', async () => {
  await search('disco 8');
  await keys(page, 'Shift+b');
  await page.keyboard.type('2');
  await keys(page, 'Enter');
  await seesText(page, 'all of it');
  await keys(page, 't');
  await seesText(page, /Copy from “Disco 8.*, bars 2 to \d”/);
});

test('a pattern that is played asks before it goes, and is played again when it is recovered', async () => {
  await keys(page, 'Shift+2');
  const remove = 'aria/put Chorus, breakers among the offcuts[role="button"]';
  await (await page.waitForSelector(remove))!.click();
  await seesText(page, /It is played in chorus \(3 places\)/);
  await changing(page, () => pressButton(page, 'remove it'));
  await nothingInFront(page);
  await keys(page, 'Shift+3');
  await changing(page, () => pressButton(page, 'recover Chorus, breakers'));
  await keys(page, 'Shift+2');
  await seesText(page, /Chorus, breakers\n4 bars · used 3×/);
});

test('a pattern of the song goes into the library, is found there, and out of it and back', async () => {
  await keys(page, 'Alt+2');
  await atStage(page, 'shape');
  await keys(page, 'Alt+l');
  await page.waitForSelector('[role=dialog] input');
  await page.keyboard.press('End');
  await page.keyboard.type(' for later');
  await keys(page, 'Enter');
  await seesText(page, /for later” is in the library, in “My grooves”/);
  await nothingInFront(page);
  await keys(page, 'Alt+1');
  await atStage(page, 'gather');
  await search('for later');
  await seesText(page, /^1 of /m);
  await pressButton(page, 'take it out');
  await seesText(page, /^nothing is called that: the nearest of /m);
  await pressButton(page, 'put it back');
  await seesText(page, /^1 of /m);
});

test('a kit an octave lower is read as a kit, and an unknown note is said what it is', async () => {
  const notes = [24, 30, 26, 30, 24, 30, 26, 9];
  const bytes = fileOf(
    notes.map((note, i) => ({ tick: i * 48, note, velocity: 90, duration: 10, channel: 9 })),
    { ppq: 96 },
  );
  await addFiles([
    { name: 'quay/low.mid', bytes },
    { name: 'quay/notes.txt', bytes: new TextEncoder().encode('dear diary') },
  ]);
  await seesText(page, /1 new groove/);
  await pressButton(page, 'close');
  await nothingInFront(page);
  await search('quay');
  await seesText(page, /1 of [\d,]+ grooves/);
  await page.waitForSelector('aria/only Kick[role="button"]');
  await page.waitForSelector('aria/only Note 9[role="button"]');
  await seesText(page, 'notes read as General MIDI, an octave lower');
  await page.focus('[role=listbox][aria-label=grooves]');
  await keys(page, 'm');
  await seesText(page, /an octave lower \(seems to fit\)/);
  await (await named(page, 'note 9 is')).click();
  await (await named(page, 'Cowbell')).click();
  await pressButton(page, 'read them like this');
  await page.waitForSelector('aria/only Cowbell[role="button"]');
  await seesText(page, 'with changes');
  await page.reload();
  await atStage(page, 'gather');
  await keys(page, 'Slash');
  await page.keyboard.type('quay cowbell');
  await seesText(page, /1 of [\d,]+ grooves/);
});

test('a bass line of a file becomes a reference part, from a bar on', async () => {
  await keys(page, 'Alt+g');
  await seesText(page, 'Reference parts');
  const bytes = fileOf(
    [0, 96, 192].map((tick) => ({ tick, note: 33, velocity: 90, duration: 80, channel: 1 })),
    { ppq: 96 },
  );
  await page.evaluate((base64) => {
    const transfer = new DataTransfer();
    const data = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
    transfer.items.add(new File([data], 'low line.mid'));
    const field = document.querySelector<HTMLInputElement>(
      '[aria-label="choose a MIDI file with a reference part"]',
    )!;
    field.files = transfer.files;
    field.dispatchEvent(new Event('change', { bubbles: true }));
  }, Buffer.from(bytes).toString('base64'));
  await changing(page, () => pressButton(page, 'use it as a reference part'));
  await seesText(page, '3 notes');
  const bar = await named(page, 'Track 1, from bar');
  expect(await bar.evaluate((field) => (field as HTMLInputElement).value)).toBe('1');
  await bar.click();
  await changing(page, () => keys(page, 'Control+a', '5', 'Enter'));
  // It may go along with the section that is there, or stay where it is.
  const anchor = () => page.$$('[role=dialog] [role=switch]').then((all) => all.at(-1)!.click());
  await changing(page, anchor);
  await seesText(page, 'moves along with verse 1');
  await changing(page, anchor);
});

test('patterns of the shelf are dragged into another order', async () => {
  await keys(page, 'Shift+2');
  const names = () =>
    page.$$eval('[aria-label=shelf] li', (rows) => rows.map((row) => row.dataset.pattern!));
  const before = await names();
  const boxOf = async (n: number) => {
    const row = await page.waitForSelector(`[aria-label=shelf] li:nth-child(${n})`);
    return (await row!.boundingBox())!;
  };
  const [first, third] = [await boxOf(1), await boxOf(3)];
  const x = first.x + 48;
  const bottom = third.y + third.height - 4;
  await drag(page, [
    { x, y: first.y + 10 },
    { x, y: bottom - 12 },
    { x, y: bottom },
  ]);
  const [a, b, c, ...rest] = before;
  await eventually(names, (after) => expect(after).toEqual([b, c, a, ...rest]));
  await changing(page, () => keys(page, 'Control+z'));
  await eventually(names, (after) => expect(after).toEqual(before));
});

test('patterns are chained end to end on the shelf, and taken apart again', async () => {
  await keys(page, 'Shift+2');
  for (const name of ['choose Verse, lamp trimmed', 'choose Fill, gull drop']) {
    await (await named(page, name)).click();
  }
  const before = Number(/\d+/.exec(await tab('shelf'))![0]);
  await changing(page, () => pressButton(page, 'chain 2'));
  await seesText(page, /chained of 2/);
  await tabSays('shelf', `shelf ${before + 1}`);
  await changing(page, () => keys(page, 'Control+z'));
  await tabSays('shelf', `shelf ${before}`);
});
