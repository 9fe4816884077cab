import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import wavDecoder from 'wav-decoder';
import {
  changing,
  DEMO,
  downloads,
  eventually,
  freshPages,
  goTo,
  keys,
  named,
  pressButton,
  seesText,
} from './browser';

const bench = freshPages();

const soundOf = (bytes: Uint8Array) =>
  wavDecoder.decode.sync(bytes.slice().buffer as ArrayBuffer).channelData[0];

const chooseWhat = async (name: string) => {
  const { page } = bench;
  await (await named(page, 'what')).click();
  await (await page.waitForSelector(`aria/${name}[role="option"]`))!.click();
};

test('a section goes out as a mix and its stems, which add up to it', async () => {
  const { page } = bench;
  // Softer than the limiter: what it does to all together no single track can have.
  await goTo(page, `${DEMO}/balance`);
  for (const track of ['Kick', 'Snare', 'Hi-hat', 'Ride']) {
    const level = await page.waitForSelector(`aria/level of ${track}[role="slider"]`);
    await level!.focus();
    await changing(page, () => keys(page, ...Array<string>(24).fill('ArrowLeft')));
  }
  await goTo(page, `${DEMO}/deliver`);
  await pressButton(page, 'sound');
  await chooseWhat('intro');
  await page.click('aria/a file a track (by piece)');
  await page.click('aria/through what all drums go through');
  await seesText(page, /Saltmarsh Signal, intro, \d\d Kick\.wav/);
  const saved = await downloads(page);
  await page.$$eval('button', (buttons) =>
    buttons.find((one) => /^write \d+ files$/.test(one.innerText))?.click(),
  );
  const files = unzipSync(await saved.next());
  await seesText(page, /files of sound were written/);
  const names = Object.keys(files);
  const mix = soundOf(files['Saltmarsh Signal, intro.wav']);
  const stems = names.filter((name) => name !== 'Saltmarsh Signal, intro.wav');
  expect(stems.length).toBeGreaterThan(2);
  let apart = 0;
  const parts = stems.map((name) => soundOf(files[name]));
  for (let i = 0; i < mix.length; i += 7) {
    const sum = parts.reduce((all, part) => all + (part[i] ?? 0), 0);
    apart = Math.max(apart, Math.abs(sum - mix[i]));
  }
  // Each file has its own dither, of a step of 24 bits.
  expect(apart).toBeLessThan((stems.length + 1) * 2 ** -21);
  expect(mix.some((x) => Math.abs(x) > 0.02)).toBe(true);
});

test('a long song is called off, and nothing is written', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/deliver`);
  await pressButton(page, 'sound');
  await pressButton(page, 'write the file');
  await page.waitForSelector('[aria-label="files being written"]');
  await pressButton(page, 'call it off');
  await seesText(page, 'Called off: no file was written.');
  await eventually(
    () => page.$('[aria-label="files being written"]'),
    (bar) => expect(bar).toBeNull(),
  );
});

test('each section goes out as a MIDI file on the tracks of the layout, under names of one’s own', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await changing(page, () => pressButton(page, 'by family'));
  await goTo(page, `${DEMO}/deliver`);
  await chooseWhat('each section, a file each');
  await (await named(page, 'tracks')).click();
  await (await page.waitForSelector(
    'aria/as in Balance: by family (type 1)[role="option"]',
  ))!.click();
  const names = await page.waitForSelector('aria/names of the files');
  await names!.click({ count: 3 });
  await page.keyboard.type('{nn} {part}');
  await seesText(page, '02 verse 1.mid');
  const saved = await downloads(page);
  await pressButton(page, 'save 9 MIDI files');
  const files = unzipSync(await saved.next());
  expect(Object.keys(files)).toHaveLength(9);
  const { header, tracks } = parseMidi(files['01 intro.mid']);
  expect(header.format).toBe(1);
  const called = tracks.flatMap((events) =>
    events.flatMap((event) => (event.type === 'trackName' ? [event.text] : [])),
  );
  expect(called.slice(1)).toEqual(expect.arrayContaining(['Cymbals', 'Snare', 'Kick']));
});
