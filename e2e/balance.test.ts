/** @about stages/balance */
import {
  changing,
  DEMO,
  drag,
  eventually,
  freshPages,
  goTo,
  keys,
  pressButton,
  saved,
  seesText,
} from './browser';

const bench = freshPages();

/** The tracks that are listed: what each is called, and how many hits it has. */
const tracks = () =>
  bench.page.$$eval('[aria-label=tracks] [data-track]', (rows) =>
    rows.map((row) => {
      const [, name, hits] = /^(.*)\n.*?(\d+) hits?/.exec((row as HTMLElement).innerText)!;
      return { name, hits: Number(hits) };
    }),
  );
const hitsIn = async () => (await tracks()).reduce((sum, { hits }) => sum + hits, 0);

/** How far the meter of a track stands out, 0 to 1. */
const meter = (track: string) =>
  bench.page.$eval(`[data-track="${track}"] [data-meter]`, (bar) =>
    Number(/scaleX\((.*)\)/.exec((bar as HTMLElement).style.transform)?.[1] ?? 0),
  );

/** The largest that a meter shows while the song goes on for some frames. */
async function loudest(track: string, frames = 40): Promise<number> {
  let top = 0;
  for (let i = 0; i < frames; i++) {
    top = Math.max(top, await meter(track));
    await bench.page.evaluate(() => new Promise((done) => requestAnimationFrame(done)));
  }
  return top;
}

const choose = (track: string) =>
  bench.page.click(`[aria-label=tracks] [data-track="${track}"] > div`);

test('the kit is split, joined by hand and put together, and every hit stays on one track', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await seesText(page, '1,038 hits, each on one track');
  const byPiece = await tracks();
  expect(await hitsIn()).toBe(1038);
  await changing(page, () => pressButton(page, 'by note'));
  expect(await hitsIn()).toBe(1038);
  await choose('hihat open');
  await changing(page, () => keys(page, 'j'));
  const joined = (await tracks()).find(({ name }) => name === 'Hi-hat, closed and open');
  expect(joined?.hits).toBeGreaterThan(20);
  expect(await hitsIn()).toBe(1038);
  await seesText(page, 'by hand');
  await changing(page, () => pressButton(page, 'one track'));
  expect(await tracks()).toEqual([{ name: 'drums', hits: 1038 }]);
  await changing(page, () => pressButton(page, 'by piece'));
  expect(await tracks()).toEqual(byPiece);
  // Each way of looking is a step that can be taken back.
  for (let i = 0; i < 4; i++) await changing(page, () => keys(page, 'Control+z'));
  expect(await tracks()).toEqual(byPiece);
});

test('tracks are muted and heard alone with keys, and their meters say so', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await choose('kick');
  await keys(page, 'Space');
  await eventually(
    () => meter('kick'),
    (shown) => expect(shown).toBeGreaterThan(0.3),
  );
  await changing(page, () => keys(page, 'm'));
  await eventually(
    () => loudest('kick', 20),
    (top) => expect(top).toBeLessThan(0.02),
  );
  await changing(page, () => keys(page, 'x'));
  await choose('snare');
  await changing(page, () => keys(page, 's'));
  await eventually(
    () => meter('snare'),
    (shown) => expect(shown).toBeGreaterThan(0.2),
  );
  await eventually(
    () => loudest('kick', 20),
    (top) => expect(top).toBeLessThan(0.02),
  );
  await changing(page, () => keys(page, 'x'));
  await eventually(
    () => meter('kick'),
    (shown) => expect(shown).toBeGreaterThan(0.3),
  );
  await keys(page, 'Space');
});

test('level, pan and room are set by keys and by mouse, and are there after a reload', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await choose('snare');
  await changing(page, () => keys(page, 'ArrowLeft', 'ArrowLeft', 'ArrowLeft'));
  await changing(page, () => keys(page, 'Shift+ArrowRight'));
  await changing(page, () => keys(page, 'r', 'r'));
  const level = await page.waitForSelector('aria/level of Ride[role="slider"]');
  await level!.focus();
  await changing(page, () => keys(page, 'ArrowLeft'));
  await choose('ride');
  const inVerse = await page.waitForSelector('aria/level of Ride in verse[role="slider"]');
  await inVerse!.focus();
  await changing(page, () => keys(page, 'ArrowLeft', 'ArrowLeft'));
  await saved(page);
  await page.reload();
  await page.waitForSelector('[aria-label=tracks] [data-track]');
  const said = (name: string) =>
    page.$eval(`aria/${name}[role="slider"]`, (slider) => slider.getAttribute('aria-valuetext'));
  expect(await said('level of Snare')).toBe('−3 dB');
  expect(await said('pan of Snare')).toBe('10 right');
  expect(await said('level of Ride')).toBe('−0.5 dB');
  await choose('ride');
  await page.waitForSelector('aria/level of Ride in verse[role="slider"]');
  expect(await said('level of Ride in verse')).toBe('−1.5 dB');
  await changing(page, () => page.click('[data-section-level] [title="reset"]'));
  expect(await said('level of Ride in verse')).toBe('−0.5 dB');
});

test('the tone of a track is drawn, dragged, moved with keys and taken out', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await choose('snare');
  const curve = () => page.$eval('[data-tone-curve]', (line) => line.getAttribute('points'));
  const flat = await curve();
  const high = await page.waitForSelector('aria/high of Snare[role="slider"]');
  const said = () => high!.evaluate((handle) => handle.getAttribute('aria-valuetext')!);
  await high!.evaluate((handle) => (handle as unknown as SVGElement).focus());
  await changing(page, () => keys(page, 'ArrowUp', 'ArrowUp'));
  expect(await said()).toBe('1 dB at 6.5 kHz');
  const box = (await high!.boundingBox())!;
  const from = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  await changing(page, () => drag(page, [from, { x: from.x - 30, y: from.y - 20 }]));
  expect(await said()).toMatch(/^(7\.5|8|8\.5) dB at (2\.[7-9]|3\.0) kHz$/);
  expect(await curve()).not.toBe(flat);
  // The whole drag is one step of undo.
  await changing(page, () => keys(page, 'Control+z'));
  expect(await said()).toBe('1 dB at 6.5 kHz');
  await changing(page, () => keys(page, 't'));
  expect(await curve()).toBe(flat);
});

test('another kit is heard at once, and goes back with undo', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await keys(page, 'Space');
  await eventually(
    () => meter('kick'),
    (shown) => expect(shown).toBeGreaterThan(0.3),
  );
  await changing(page, () => keys(page, 'k'));
  await seesText(page, 'The kit is “tight and dry”.');
  await eventually(
    () => meter('kick'),
    (shown) => expect(shown).toBeGreaterThan(0.3),
  );
  await seesText(page, '0.18 s');
  await changing(page, () => keys(page, 'Control+z'));
  await seesText(page, '0.42 s');
  await keys(page, 'Space');
});

test('a value is typed, stepped finely and coarsely, turned with the wheel, set back, and a drag is taken back', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await choose('snare');
  const said = (name: string) =>
    page.$eval(`aria/${name}[role="slider"]`, (slider) => slider.getAttribute('aria-valuetext'));
  const middleOf = async (name: string) => {
    const handle = await page.waitForSelector(`aria/${name}[role="slider"]`);
    await handle!.scrollIntoView();
    const box = await handle!.evaluate((one) => {
      const thumb = one.querySelector('.MuiSlider-thumb') ?? one;
      const { x, y, width, height } = thumb.getBoundingClientRect();
      return { x: x + width / 2, y: y + height / 2 };
    });
    return box;
  };
  const type = async (name: string, text: string) => {
    await page.click(`[title="press to type: ${name}"]`);
    await page.keyboard.type(text);
  };
  const level = 'level of Snare';
  await type(level, '-7.3');
  await changing(page, () => keys(page, 'Enter'));
  expect(await said(level)).toBe('−7.3 dB');
  // A pan is typed as it is shown.
  await type('pan of Snare', '30 left');
  await changing(page, () => keys(page, 'Enter'));
  expect(await said('pan of Snare')).toBe('30 left');
  // The next key is heard: what was typed has left its field.
  await changing(page, () => keys(page, 'Control+z'));
  expect(await said('pan of Snare')).toBe('middle');
  // Out of its range it says the range, and stays to be mended.
  await type(level, '40');
  await keys(page, 'Enter');
  await seesText(page, 'a number from -48 to 6');
  expect(await said(level)).toBe('−7.3 dB');
  await keys(page, 'Escape');
  // With the focus: arrows are steps, page keys ten of them, and Shift with an arrow is what the list of keys says.
  await page.focus(`aria/${level}[role="slider"]`);
  await changing(page, () => keys(page, 'ArrowRight'));
  expect(await said(level)).toBe('−6.8 dB');
  await changing(page, () => keys(page, 'PageDown'));
  expect(await said(level)).toBe('−11.8 dB');
  await changing(page, () => keys(page, 'Shift+ArrowRight'));
  expect([await said(level), await said('pan of Snare')]).toEqual(['−11.8 dB', '10 right']);
  const thumb = await middleOf(level);
  await page.mouse.move(thumb.x, thumb.y);
  await changing(page, () => page.mouse.wheel({ deltaY: -120 }));
  expect(await said(level)).toBe('−11.3 dB');
  // A drag that Escape ends is taken back, and is no step of undo.
  const from = await middleOf(level);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(from.x - 40, from.y, { steps: 3 });
  await eventually(
    () => said(level),
    (text) => expect(text).not.toBe('−11.3 dB'),
  );
  await keys(page, 'Escape');
  await page.mouse.move(from.x - 80, from.y);
  await page.mouse.up();
  expect(await said(level)).toBe('−11.3 dB');
  await changing(page, () => page.mouse.click(from.x, from.y, { count: 2 }));
  expect(await said(level)).toBe('0 dB');

  // The tuning of the piece, in cents: with Shift ten pixels are one.
  await keys(page, 'Enter');
  const tuned = 'Snare: tuned';
  await page.waitForSelector(`aria/${tuned}[role="slider"]`);
  const at = await middleOf(tuned);
  await changing(page, async () => {
    await page.mouse.move(at.x, at.y);
    await page.mouse.down();
    await page.keyboard.down('Shift');
    await page.mouse.move(at.x + 1, at.y);
    await page.mouse.up();
    await page.keyboard.up('Shift');
  });
  expect(await said(tuned)).toMatch(/^\+[1-4] ct$/);
  await page.focus(`aria/${tuned}[role="slider"]`);
  const cents = async () => Number(/\d+/.exec((await said(tuned))!)![0]);
  const before = await cents();
  await changing(page, () => keys(page, 'Shift+ArrowRight'));
  expect(await cents()).toBe(before + 1);

  // A point of a curve likewise.
  const high = 'high of Snare';
  const point = await middleOf(high);
  await changing(page, () => drag(page, [point, { x: point.x, y: point.y - 20 }]));
  await type(`frequency of ${high}`, '5000');
  await changing(page, () => keys(page, 'Enter'));
  expect(await said(high)).toMatch(/ at 5\.0 kHz$/);
  const there = await middleOf(high);
  await changing(page, () => page.mouse.click(there.x, there.y, { count: 2 }));
  expect(await said(high)).toBe('0 dB at 6.5 kHz');
});

test('while the mix is heard as it was noted, its rows show it, until something is changed', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await choose('snare');
  const level = () =>
    page.$eval('aria/level of Snare[role="slider"]', (slider) =>
      slider.getAttribute('aria-valuetext'),
    );
  await changing(page, () => keys(page, 'ArrowLeft', 'ArrowLeft'));
  expect(await level()).toBe('−2 dB');
  await keys(page, 'c');
  await eventually(level, (text) => expect(text).toBe('0 dB'));
  await keys(page, 'c');
  await eventually(level, (text) => expect(text).toBe('−2 dB'));
  await keys(page, 'c');
  await changing(page, () => keys(page, 'ArrowLeft'));
  expect(await level()).toBe('−3 dB');
});
