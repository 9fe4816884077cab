/** @about stages/balance */
/** What is heard is timed: @quiet */
import type { Page } from 'puppeteer-core';
import {
  changing,
  chooseFile,
  chooseFromMenu,
  DEMO,
  downloads,
  eventually,
  freshPages,
  goTo,
  hears,
  keys,
  listenAnew,
  loopOnRibbon,
  named,
  pressButton,
  recordOutput,
  seesText,
  PATIENCE,
} from './browser';

const bench = freshPages(recordOutput);

const choose = (page: Page, track: string) =>
  page.click(`[aria-label=tracks] [data-track="${track}"] > div`);

/** How loud what is high is from now on for so many seconds, in dB. */
async function loudness(page: Page, seconds: number): Promise<number> {
  await listenAnew(page);
  const blocks = Math.ceil((seconds * 48_000) / 1024);
  await page.waitForFunction(
    (wanted) => (window as unknown as { heard: Float32Array[] }).heard.length >= wanted,
    { timeout: PATIENCE },
    blocks,
  );
  return page.evaluate((wanted) => {
    const { heard } = window as unknown as { heard: Float32Array[] };
    let sum = 0;
    for (const block of heard.slice(0, wanted)) {
      for (let i = 2; i < block.length; i++)
        sum += (block[i] - 2 * block[i - 1] + block[i - 2]) ** 2;
    }
    return 10 * Math.log10(sum / (wanted * 1024) + 1e-12);
  }, blocks);
}

/** How loud a stretch of the song is, by shares of the ribbon, while it goes round. */
async function loudnessOf(page: Page, from: number, to: number): Promise<number> {
  await loopOnRibbon(page, from, to);
  await keys(page, 'Space');
  await hears(page);
  const heard = await loudness(page, 4);
  await keys(page, 'Space');
  return heard;
}

const CHORUS = [0.195, 0.305] as const;
const OUTRO = [0.915, 0.985] as const;

test('a ride is turned down in one section only, and layouts come and go without a sound changing', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  // The guide is heard beside whatever is soloed.
  await keys(page, 'Alt+g');
  await changing(page, () => pressButton(page, 'mute'));
  await keys(page, 'Escape');
  await choose(page, 'ride');
  await changing(page, () => keys(page, 's'));
  const outro = await loudnessOf(page, ...OUTRO);
  const chorus = await loudnessOf(page, ...CHORUS);
  await changing(page, () => keys(page, ...Array<string>(12).fill('Control+ArrowLeft')));
  const softer = await loudnessOf(page, ...CHORUS);
  expect(softer - chorus).toBeGreaterThan(-14);
  expect(softer - chorus).toBeLessThan(-10);
  // Four seconds of a loop from wherever it is heard first differ by a dB or two.
  expect(Math.abs((await loudnessOf(page, ...OUTRO)) - outro)).toBeLessThan(3);
  await changing(page, () => pressButton(page, 'one track'));
  await changing(page, () => pressButton(page, 'by piece'));
  expect(Math.abs((await loudnessOf(page, ...CHORUS)) - softer)).toBeLessThan(3);
});

test('the snare gets a long room, which rings on when the song stops', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await choose(page, 'snare');
  await changing(page, () => keys(page, 's'));
  /** How loud it still is after a stroke, when everything was stopped. */
  const tail = async () => {
    await keys(page, 'Space');
    await hears(page);
    await keys(page, 'Space');
    await loudness(page, 0.4);
    return loudness(page, 0.5);
  };
  await loopOnRibbon(page, 0.07, 0.17);
  const dry = await tail();
  await changing(page, () =>
    keys(page, ...Array<string>(10).fill('r'), ...Array<string>(9).fill('g')),
  );
  expect(await tail()).toBeGreaterThan(dry + 15);
});

test('kits are heard before they are taken, kept, and go from one browser to another as a file', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await keys(page, 'Alt+k');
  const said = () => page.$eval('[aria-label=kits] [aria-selected=true]', (row) => row.textContent);
  await keys(page, 'ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowDown');
  expect(await said()).toBe('electronic');
  await seesText(page, 'kit: electronic');
  // It was only heard: what is done next takes it back.
  await keys(page, 'Escape');
  await seesText(page, 'kit: warm studio');
  await keys(page, 'Alt+k', 'ArrowDown');
  await changing(page, () => keys(page, 'Enter'));
  await (await named(page, 'keep this kit as')).type('net loft');
  await pressButton(page, 'keep');
  await seesText(page, 'The kit is kept as “net loft”.');
  const saved = await downloads(page);
  await pressButton(page, 'save as a file');
  const file = await saved.next();
  // The same file opens as one more kit.
  await chooseFile(page, 'net loft.loomkit.zip', file);
  await seesText(page, '“net loft 2” is kept');
  await chooseFile(page, 'torn.loomkit.zip', file.subarray(0, 200));
  await seesText(page, 'is no kit file, or it is cut off');
});

test('one track is alone in Shape, is muted there, and is lifted onto the shelf', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await changing(page, () => pressButton(page, 'by family'));
  await goTo(page, `${DEMO}/shape`);
  const rows = () =>
    page.$$eval('[role=row]', (list) => list.map((row) => row.getAttribute('aria-label')));
  const all = await rows();
  await page.click('[aria-label="only Toms"]');
  await eventually(rows, (now) => expect(now.every((name) => name?.startsWith('Tom'))).toBe(true));
  await keys(page, 'Control+a');
  await chooseFromMenu(page, 'k', 'a');
  await eventually(rows, (now) => expect(now).toEqual(all));
  await page.click('[aria-label="hear Snare"]');
  await page.focus('[role=grid]');
  await changing(page, () => keys(page, 'Alt+m'));
  await seesText(page, 'Snare: muted.');
  await changing(page, () => keys(page, 'Alt+x'));
  await changing(page, () => chooseFromMenu(page, 'b', 'l'));
  await seesText(page, '“Verse, lamp trimmed, Snare” is on the shelf.');
  await changing(page, () => chooseFromMenu(page, 'b', 'n'));
  await seesText(page, /patterns on the shelf play what “Verse, lamp trimmed” played/);
});
