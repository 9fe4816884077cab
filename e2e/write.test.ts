/** @about stages/shape */
import type { Page } from 'puppeteer-core';
import {
  changing,
  drag,
  drawn,
  eventually,
  goTo,
  hitsOf,
  keys,
  named,
  newSong,
  openPage,
  press,
  pressButton,
  saved,
  seesText,
  stepPoint,
  freshPages,
  velocities,
} from './browser';

const bench = freshPages();
let page: Page;
let song: string;
beforeEach(async () => {
  page = bench.page;
  song = await newSong(page);
});

const STEP = 240;

/** A crescendo roll of eight strokes on the last two beats. */
async function paintRoll(): Promise<void> {
  await drag(page, [
    await stepPoint(page, 'snare', 8 * STEP, 20),
    await stepPoint(page, 'snare', 15 * STEP, 120),
  ]);
}

/** Puts the cursor on the first step of a row, with keys. */
async function startOf(row: number): Promise<void> {
  await page.focus('[role=grid]');
  const [up, left] = [Array<string>(12).fill('ArrowUp'), Array<string>(16).fill('ArrowLeft')];
  await keys(page, 'Escape', ...up, ...left, ...Array<string>(row).fill('ArrowDown'));
}

const seesNoSelection = () =>
  page.waitForFunction(() => !document.body.innerText.includes('selected'));

describe('writing a beat with the mouse', () => {
  test('a press places a hit as loud as it is high', async () => {
    await press(page, await stepPoint(page, 'kick', 0, 100));
    await press(page, await stepPoint(page, 'kick', 8 * STEP, 40));
    const [loud, soft] = await velocities(page, 'kick');
    expect(Math.abs(loud - 100)).toBeLessThan(4);
    expect(Math.abs(soft - 40)).toBeLessThan(4);
    expect(await hitsOf(page, 'kick')).toEqual([
      expect.stringMatching(/^kick, bar 1 beat 1, velocity/),
      expect.stringMatching(/^kick, bar 1 beat 3, velocity/),
    ]);
  });

  test('one stroke paints a crescendo roll, is one step of undo, and comes back', async () => {
    await press(page, await stepPoint(page, 'kick', 0, 100));
    await paintRoll();
    const painted = await velocities(page, 'snare');
    expect(painted).toHaveLength(8);
    expect(painted).toEqual([...painted].sort((a, b) => a - b));
    expect(painted[7] - painted[0]).toBeGreaterThan(80);
    await changing(page, () => keys(page, 'Control+z'));
    expect(await hitsOf(page, 'snare')).toHaveLength(0);
    expect(await hitsOf(page, 'kick')).toHaveLength(1);
    await changing(page, () => keys(page, 'Control+Shift+z'));
    expect(await velocities(page, 'snare')).toEqual(painted);
  });

  test('a stem is dragged to another velocity or step without loss; the right button erases in its row', async () => {
    await press(page, await stepPoint(page, 'kick', 0, 100));
    await paintRoll();
    const [before] = await velocities(page, 'kick');
    const at = await stepPoint(page, 'kick', 0, 90);
    await drag(page, [at, { x: at.x, y: at.y + 22 }]);
    const [after] = await velocities(page, 'kick');
    expect(after).toBeLessThan(before - 15);

    // From its step over two others to a free one: all are there afterwards.
    await drag(page, [
      await stepPoint(page, 'snare', 8 * STEP, 60),
      await stepPoint(page, 'snare', 6 * STEP, 60),
    ]);
    const moved = await hitsOf(page, 'snare');
    expect(moved).toHaveLength(8);
    expect(moved[0]).toContain('bar 1 beat 2, step 3');

    const last = await stepPoint(page, 'snare', 12 * STEP, 60);
    const kick = await stepPoint(page, 'kick', 0, 60);
    await drag(page, [last, { ...last, x: last.x + 2 }, { x: last.x, y: kick.y }, kick], 'right');
    await press(page, await stepPoint(page, 'snare', 13 * STEP, 60));
    expect(await hitsOf(page, 'kick')).toHaveLength(1);
    expect((await hitsOf(page, 'snare')).join()).not.toMatch(/beat 4(, step 2)?, velocity/);
  });

  test('Escape takes back the stroke that is going on', async () => {
    await press(page, await stepPoint(page, 'kick', 0, 100));
    const at = await stepPoint(page, 'kick', 0, 90);
    const before = await hitsOf(page, 'kick');
    await page.mouse.move(at.x, at.y);
    await page.mouse.down();
    await page.mouse.move(at.x, at.y + 30, { steps: 4 });
    await eventually(
      () => hitsOf(page, 'kick'),
      (now) => expect(now).not.toEqual(before),
    );
    await keys(page, 'Escape');
    await page.mouse.move(at.x, at.y + 50, { steps: 2 });
    await page.mouse.up();
    await drawn(page);
    expect(await hitsOf(page, 'kick')).toEqual(before);

    // A frame that is called off leaves what was selected.
    await page.focus('[role=grid]');
    await keys(page, 'Control+a');
    await seesText(page, '1 hit selected');
    await page.keyboard.down('Shift');
    const empty = await stepPoint(page, 'snare', 8 * STEP, 90);
    await page.mouse.move(empty.x, empty.y);
    await page.mouse.down();
    await page.mouse.move(empty.x + 40, empty.y, { steps: 4 });
    await seesNoSelection();
    await keys(page, 'Escape');
    await page.mouse.up();
    await page.keyboard.up('Shift');
    await seesText(page, '1 hit selected');
  });

  test('a selection is dragged to another row; with one, pressing empty paper only deselects', async () => {
    for (const step of [0, 1]) await press(page, await stepPoint(page, 'snare', step * STEP, 100));
    await page.focus('[role=grid]');
    await keys(page, 'Control+a');
    const from = await stepPoint(page, 'snare', 0, 60);
    await changing(page, async () => drag(page, [from, await stepPoint(page, 'kick', 0, 60)]));
    expect([await hitsOf(page, 'snare'), await hitsOf(page, 'kick')].map((h) => h.length)).toEqual([
      0, 2,
    ]);
    await press(page, await stepPoint(page, 'kick', 8 * STEP, 60));
    await seesNoSelection();
    expect(await hitsOf(page, 'kick')).toHaveLength(2);
    await press(page, await stepPoint(page, 'kick', 8 * STEP, 60));
    expect(await hitsOf(page, 'kick')).toHaveLength(3);
  });

  test('after undo, what is gone is not selected any more', async () => {
    await press(page, await stepPoint(page, 'snare', 0, 100));
    await page.focus('[role=grid]');
    await keys(page, 'Control+a');
    await seesText(page, '1 hit selected');
    await changing(page, () => keys(page, 'Control+z'));
    await seesNoSelection();
    await changing(page, () => keys(page, 'Enter'));
    await changing(page, () => keys(page, 'Delete'));
    expect(await hitsOf(page, 'snare')).toEqual([]);
  });

  test('a frame selects; the selection is copied, moved and duplicated', async () => {
    for (const step of [14, 15]) await press(page, await stepPoint(page, 'snare', step * STEP));
    await page.keyboard.down('Shift');
    const from = await stepPoint(page, 'snare', 12 * STEP, 127);
    const to = await stepPoint(page, 'kick', 15 * STEP, 1);
    await drag(page, [from, { x: to.x + 20, y: to.y }]);
    await page.keyboard.up('Shift');
    await seesText(page, '2 hits selected, snare only, bar 1 beat 4, step 3');
    await changing(page, () => keys(page, 'Alt+ArrowLeft'));
    await seesText(page, 'bar 1 beat 4, step 2 to bar 1 beat 4, step 3');
    await keys(page, 'Control+c', 'Escape');
    await press(page, await stepPoint(page, 'snare', 4 * STEP));
    await changing(page, () => keys(page, 'Control+z'));
    await changing(page, () => keys(page, 'Control+v'));
    expect(await hitsOf(page, 'snare')).toHaveLength(4);
    await changing(page, () => keys(page, 'Delete'));
    expect(await hitsOf(page, 'snare')).toHaveLength(2);
  });
});

describe('writing with keys alone', () => {
  /** Three hats, the last of them open. */
  async function hats(): Promise<void> {
    await startOf(2);
    await keys(page, '6', 'ArrowRight', 'ArrowRight', '4', 'ArrowRight', 'ArrowRight', '9', 'v');
  }

  test('arrows walk, digits strike, V opens the hat, Enter removes', async () => {
    await hats();
    expect(await hitsOf(page, 'hihat')).toEqual([
      'hi-hat, bar 1 beat 1, velocity 86',
      'hi-hat, bar 1 beat 1, step 3, velocity 60',
      'hi-hat, bar 1 beat 2, open, velocity 127',
    ]);
    await keys(page, 'PageDown', 'ArrowLeft', 'ArrowLeft', 'Enter');
    expect(await hitsOf(page, 'hihat')).toEqual([
      'hi-hat, bar 1 beat 1, velocity 86',
      'hi-hat, bar 1 beat 2, open, velocity 123',
    ]);
    const spoken = await page.$eval('[role=grid]', (grid) => {
      const id = grid.getAttribute('aria-activedescendant')!;
      return document.getElementById(id)?.getAttribute('aria-label');
    });
    expect(spoken).toBe('hi-hat, bar 1 beat 1, step 3, empty');
  });

  test('steps, bars and rows are changed; finer steps move no hit', async () => {
    await startOf(7);
    await keys(page, '9', 'ArrowRight', 'ArrowRight', '5');
    const before = await hitsOf(page, 'kick');
    await keys(page, '.');
    await seesText(page, '1/32');
    expect(await page.$$('[id^="cell-kick-"]')).toHaveLength(32);
    const moments = (labels: string[]) => labels.map((label) => label.split(',').at(-1));
    expect(moments(await hitsOf(page, 'kick'))).toEqual(moments(before));
    await keys(page, ',', 'Shift+.');
    expect(await page.$$('[id^="cell-kick-"]')).toHaveLength(32);
    expect(await hitsOf(page, 'kick')).toEqual(before);
    await pressButton(page, 'add a kit piece');
    await (await named(page, 'Cowbell')).click();
    await page.waitForSelector('#cell-cowbell-0');
    await page.waitForSelector('[role=menu]', { hidden: true });
    await pressButton(page, 'take the row out');
    await page.waitForSelector('#cell-cowbell-0', { hidden: true });
  });

  test('a value out of range is refused beside the field, and stays to be mended', async () => {
    const bars = await named(page, 'bars');
    await bars.click();
    await keys(page, 'Control+a', '9', '9', '9');
    await seesText(page, '0.25 to 64');
    await keys(page, 'Tab');
    const value = () => bars.evaluate((field) => (field as HTMLInputElement).value);
    expect(await value()).toBe('999');
    await seesText(page, '0.25 to 64');
    const columns = () =>
      page.$eval('[role=grid]', (grid) => Number(grid.getAttribute('aria-colcount')));
    expect(await columns()).toBe(17);
    await bars.click();
    await keys(page, 'Escape');
    await eventually(value, (shown) => expect(shown).toBe('1'));
  });

  test('closing the tab and coming back finds everything as it was', async () => {
    await hats();
    await press(page, await stepPoint(page, 'kick', 0));
    const rows = ['kick', 'snare', 'hihat'];
    const before = await Promise.all(rows.map((piece) => hitsOf(page, piece)));
    await saved(page);
    const again = await openPage(page.browserContext());
    await page.close();
    await goTo(again.page, `${song}/shape`);
    expect(await Promise.all(rows.map((piece) => hitsOf(again.page, piece)))).toEqual(before);
    expect(again.errors).toEqual([]);
  });
});
