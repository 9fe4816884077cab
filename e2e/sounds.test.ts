/** @about stages/balance */
/** What is heard is timed: @quiet */
import { renderMix } from '../src/core/engine';
import { demoSongs } from '../src/demo';
import {
  atStage,
  carryFiles,
  changing,
  DEMO,
  downloads,
  dropFile,
  eventually,
  freshPages,
  goTo,
  hears,
  keys,
  listenAnew,
  onDisk,
  pressButton,
  recordOutput,
  saved,
  seesText,
  strokesHeard,
  wavOf,
} from './browser';

const bench = freshPages(recordOutput);
const RATE = 48_000;

const choose = (track: string) =>
  bench.page.click(`[aria-label=tracks] [data-track="${track}"] > div`);

/** A short high tone: nothing of a drum kit sounds so. */
const tone = Float32Array.from(
  { length: RATE / 5 },
  (_, i) => 0.9 * Math.sin((2 * Math.PI * 9000 * i) / RATE) * Math.exp(-i / 3000),
);

/** Two bars of the demo as someone might have recorded them. */
function loop(): Uint8Array {
  const bar = 240 / 104;
  const song = { ...demoSongs()[0], guides: [] };
  return wavOf(renderMix(song, { from: 4 * bar, to: 6 * bar }).left);
}

const reduction = () =>
  bench.page.$eval('[data-held-back]', (bar) =>
    Number(/scaleX\((.*)\)/.exec((bar as HTMLElement).style.transform)?.[1] ?? 0),
  );

test('a track is compressed by keys and handles, and the drum bus says how loud it was', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await choose('kick');
  await changing(page, () => keys(page, 'd'));
  await changing(page, () => keys(page, 'Shift+ArrowDown', 'Shift+ArrowDown', 'Shift+ArrowDown'));
  const threshold = await page.waitForSelector('aria/threshold of Kick[role="slider"]');
  expect(await threshold!.evaluate((handle) => handle.getAttribute('aria-valuetext'))).toBe(
    '−21.0 dB',
  );
  await keys(page, 'Space');
  await eventually(reduction, (held) => expect(held).toBeGreaterThan(0.05));
  await changing(page, () => keys(page, 'd'));
  await keys(page, 'b');
  await eventually(reduction, (held) => expect(held).toBeGreaterThan(0.02));
  await eventually(
    () => page.$eval('[data-loudness-of-all]', (text) => text.textContent!),
    (words) => {
      const [, integrated, peak] = /, −([\d.]+) LUFS in all, peak −([\d.]+) dB/.exec(words)!;
      expect(Number(integrated)).toBeGreaterThan(10);
      expect(Number(integrated)).toBeLessThan(30);
      expect(Number(peak)).toBeGreaterThanOrEqual(0.9);
    },
  );
  // As it was, and as it is: nothing of the song changes by comparing.
  await choose('kick');
  await changing(page, () => keys(page, 'v', 'v'));
  await keys(page, 'c');
  await seesText(page, 'before (C)');
  await keys(page, 'c');
  await keys(page, 'Space');
});

test('a sound file dropped on a piece is heard as one more layer, and can be taken back', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await choose('snare');
  await keys(page, 'Enter');
  const zone = await page.waitForSelector('[data-drop-files=snare]');
  await zone!.evaluate((element) => element.scrollIntoView({ block: 'center' }));
  const middle = async (selector: string) => {
    const box = (await (await page.waitForSelector(selector))!.boundingBox())!;
    return { x: box.x + box.width / 2, y: Math.min(660, box.y + box.height / 2) };
  };
  const carried = await carryFiles(page, [onDisk('tin lid.wav', wavOf(tone))]);
  await carried.over(await middle('[data-drop-files=snare]'));
  await seesText(page, 'Snare: as one more layer');
  const layer = await middle('[data-drop-how=layer]');
  await carried.over(layer);
  await changing(page, () => carried.drop(layer));
  await seesText(page, 'Snare plays the file.');
  expect(await page.$$eval('[data-layer]', (layers) => layers.length)).toBe(1);
  // Alone, the snare has a tone in it now that no drum has.
  await changing(page, () => keys(page, 's'));
  const pitch = async () => {
    await hears(page);
    await listenAnew(page);
    const strokes = await strokesHeard(page, 3);
    return Math.max(0, ...strokes.map((stroke) => stroke.pitch));
  };
  await keys(page, 'Space');
  await eventually(pitch, (heard) => expect(heard).toBeGreaterThan(7000));
  await changing(page, () => keys(page, 'Shift+y'));
  await eventually(pitch, (heard) => expect(heard).toBeLessThan(7000));
  await keys(page, 'Space');
});

/** One channel of 16 bits, 44.1 kHz, with 100 samples of silence. */
const SILENT_AIFF = Buffer.concat([
  Buffer.from('FORM\0\0\x01\0AIFFCOMM\0\0\0\x12\0\x01\0\0\0\x64\0\x10', 'latin1'),
  Buffer.from('400eac44000000000000', 'hex'),
  Buffer.from('SSND\0\0\0\xd0\0\0\0\0\0\0\0\0', 'latin1'),
  Buffer.alloc(200),
]);

test('files that hold no sound are told apart, and nothing is lost', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  const hostile: [string, Uint8Array, RegExp][] = [
    ['empty.wav', new Uint8Array(0), /“empty.wav” is empty/],
    ['letter.mp3', new TextEncoder().encode('dear drummer'), /“letter.mp3” is no sound/],
    ['cut.wav', wavOf(tone).subarray(0, 30), /“cut.wav” is damaged or cut off/],
    ['hush.wav', wavOf(new Float32Array(4800)), /“hush.wav” is silent/],
    ['hush.aiff', SILENT_AIFF, /“hush.aiff” is silent/],
    ['<b>odd</b>.wav', wavOf(new Float32Array(4800)), /is silent/],
  ];
  for (const [name, bytes, says] of hostile) {
    await dropFile(page, name.replaceAll('/', '_'), bytes);
    await seesText(page, says);
  }
  await seesText(page, '1,038 hits, each on one track');
  expect(await page.$$('b')).toHaveLength(0);
});

test('a loop is cut, becomes a pattern, is played on tracks of its own and by the usual kit', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await dropFile(page, 'shed.wav', loop());
  await seesText(page, 'Cut the loop');
  await page.waitForSelector('aria/hear slice 8');
  await seesText(page, /1[0-9] slices/);
  expect(await page.$eval('aria/bars of 4/4', (field) => (field as HTMLInputElement).value)).toBe(
    '2',
  );
  const tempo = await page.$eval(
    'aria/tempo[role="textbox"]',
    (field) => (field as HTMLInputElement).value,
  );
  expect(Math.abs(Number(tempo) - 104)).toBeLessThan(0.5);
  await changing(page, () => pressButton(page, 'take it with its sound'));
  await atStage(page, 'shape');
  const rows = () =>
    page.$$eval('[role=row][aria-label]', (all) =>
      all.map((row) => row.getAttribute('aria-label')),
    );
  await eventually(rows, (names) =>
    expect(names).toEqual(expect.arrayContaining(['Kick, shed', 'Snare, shed'])),
  );
  await keys(page, 'Space');
  await hears(page);
  await keys(page, 'Space');
  // The same hits, played by the kit that every song has.
  await keys(page, 'Control+k');
  await page.keyboard.type('usual kit');
  await changing(page, () => keys(page, 'Enter'));
  await eventually(rows, (names) =>
    expect(names).toEqual(expect.arrayContaining(['Kick', 'Snare'])),
  );
  await changing(page, () => keys(page, 'Control+z'));
  await eventually(rows, (names) => expect(names).toContain('Kick, shed'));
  await saved(page);
  await goTo(page, `${DEMO}/balance`);
  await seesText(page, 'Kick, shed');
});

test('the note map of a song: ready ones, one’s own, what clashes, and out as a file', async () => {
  const { page } = bench;
  const saves = await downloads(page);
  await goTo(page, `${DEMO}/balance`);
  await keys(page, 'z');
  await seesText(page, 'Note map: the MIDI note of each stroke');
  await seesText(page, 'shared: note 46');
  await (await page.waitForSelector('aria/map[role="combobox"]'))!.click();
  const ten = await page.waitForSelector('aria/ten keys[role="option"]');
  await changing(page, () => ten!.click());
  await seesText(page, /no two strokes share a note; \d+ strokes go to the nearest/);
  await seesText(page, 'goes out as crash');
  const kick = await page.waitForSelector('aria/Kick, beater, note');
  await kick!.click({ count: 3 });
  await page.keyboard.type('61');
  await changing(page, () => keys(page, 'Enter'));
  await seesText(page, 'shared: note 61');
  await pressButton(page, 'as CSV');
  expect(String(await saves.next())).toContain('61,"Snare, centre"\r\n61,"Kick, beater"');
  await pressButton(page, 'done');
  await changing(page, () => keys(page, 'Control+z'));
  await changing(page, () => keys(page, 'Control+z'));
  await goTo(page, `${DEMO}/deliver`);
  await seesText(page, 'note map: General MIDI');
});
