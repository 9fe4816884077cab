/** @about stages/shape */
import type { Page } from 'puppeteer-core';
import {
  changing,
  chooseFromMenu,
  DEMO,
  drawn,
  eventually,
  freshPages,
  goTo,
  hitsOf,
  keys,
  newSong,
  nothingInFront,
  press,
  pressButton,
  seesText,
  stepPoint,
  velocities,
} from './browser';

const bench = freshPages();
let page: Page;
beforeEach(() => {
  page = bench.page;
});

const STEP = 240;

/** Whether the step of the cursor can be seen. */
const cursorInSight = () =>
  page.evaluate(() => {
    const grid = document.querySelector('[role=grid]')!;
    const cell = document.getElementById(grid.getAttribute('aria-activedescendant')!)!;
    const view = grid.closest('[class*=scroller]')!.getBoundingClientRect();
    const { left, right } = cell.getBoundingClientRect();
    // The names of the rows stand over the left of it.
    return left >= view.left + 180 && right <= view.right;
  });

async function typeInto(field: string, text: string): Promise<void> {
  const input = await page.waitForSelector(`input[aria-label="${field}"]`);
  await input!.click({ clickCount: 3 });
  await page.keyboard.type(text);
}

test('zooming by keys and finer steps keep the cursor in sight', async () => {
  await goTo(page, `${DEMO}/shape`);
  await page.focus('[role=grid]');
  await keys(page, 'Control+Shift+ArrowRight', 'ArrowRight', 'ArrowRight');
  for (const key of ['=', '=', '=', '=', '.', '=', ',', '-']) {
    await keys(page, key);
    await eventually(cursorInSight, (seen) => expect([key, seen]).toEqual([key, true]));
  }
});

test('a meter asks what becomes of the bars, and Escape leaves it as it was', async () => {
  await goTo(page, `${DEMO}/shape`);
  const before = (await hitsOf(page, 'hihat')).length;
  const meter = async (text: string) => {
    const field = await page.waitForSelector('xpath///label[.="meter"]/following::input[1]');
    await field!.click({ clickCount: 3 });
    await page.keyboard.type(text);
    await keys(page, 'Enter');
    await seesText(page, `4/4 to ${text}`);
  };
  await meter('3/4');
  await keys(page, 'Escape');
  await nothingInFront(page);
  expect(await hitsOf(page, 'hihat')).toHaveLength(before);
  await meter('3/4');
  await seesText(page, /bars begin where they did; \d+ strokes go/);
  await changing(page, () => pressButton(page, 'squeeze each bar'));
  await nothingInFront(page);
  expect(await hitsOf(page, 'hihat')).toHaveLength(before);
  await changing(page, () => keys(page, 'Control+z'));
  await meter('3/4');
  await changing(page, () => keys(page, 'Enter'));
  expect((await hitsOf(page, 'hihat')).length).toBeLessThan(before);
});

test('a panel begins with what the hits have, and its values are typed as they are shown', async () => {
  await newSong(page);
  await press(page, await stepPoint(page, 'snare', 4 * STEP));
  await page.focus('[role=grid]');
  await chooseFromMenu(page, 'o', 'f');
  await typeInto('before the hit by, ms', '40');
  await changing(page, () => keys(page, 'Enter'));
  await chooseFromMenu(page, 'o', 'f');
  const lead = () =>
    page.$eval(
      'input[aria-label="before the hit by, ms"]',
      (field) => (field as HTMLInputElement).value,
    );
  expect(await lead()).toBe('40');
  await keys(page, 'Escape');
  await chooseFromMenu(page, 'o', 'm');
  await typeInto('room, %', '35');
  await changing(page, () => keys(page, 'Enter'));
  await chooseFromMenu(page, 'o', 'm');
  const sent = () =>
    page.$eval('input[aria-label="room, %"]', (field) => (field as HTMLInputElement).value);
  expect(await sent()).toBe('35');
});

test('hits are nudged by keys, and off their step by hand with Ctrl, and stay on it', async () => {
  await newSong(page);
  await press(page, await stepPoint(page, 'snare', 4 * STEP));
  await page.focus('[role=grid]');
  const [plain] = await hitsOf(page, 'snare');
  await changing(page, () => keys(page, 'Alt+Shift+ArrowRight'));
  await changing(page, () => keys(page, 'Alt+Shift+ArrowRight'));
  expect(await hitsOf(page, 'snare')).toEqual([expect.stringMatching(/2 ms late/)]);
  await changing(page, () => keys(page, 'Control+z'));
  await changing(page, () => keys(page, 'Control+z'));
  const at = await stepPoint(page, 'snare', 4 * STEP);
  await page.mouse.move(at.x, at.y);
  await page.mouse.down();
  await page.keyboard.down('Control');
  await page.mouse.move(at.x + 9, at.y, { steps: 6 });
  await drawn(page);
  await changing(page, () => page.mouse.up());
  await page.keyboard.up('Control');
  const [moved] = await hitsOf(page, 'snare');
  expect(moved).toMatch(/\d+ ms late/);
  expect(moved.slice(0, 20)).toBe(plain.slice(0, 20));
});

test('several rows are pasted from the cursor’s row down, and it is said where', async () => {
  await newSong(page);
  await press(page, await stepPoint(page, 'snare', 0));
  await press(page, await stepPoint(page, 'hihat', 0));
  await page.focus('[role=grid]');
  await keys(page, 'Control+a', 'Control+c', 'Escape', 'ArrowDown');
  await changing(page, () => keys(page, 'Control+Shift+v'));
  await seesText(page, /Pasted on snare and /);
});

test('hidden rows are not chosen with everything, and are as they were afterwards', async () => {
  await goTo(page, `${DEMO}/shape`);
  await page.focus('[role=grid]');
  const snare = await velocities(page, 'snare');
  await press(page, await stepPoint(page, 'snare', 0, 20));
  await keys(page, 'Control+z');
  await chooseFromMenu(page, 'k', 'h');
  await seesText(page, '1 row hidden');
  await keys(page, 'Control+a');
  await changing(page, () => keys(page, 'Delete'));
  expect(await hitsOf(page, 'kick')).toHaveLength(0);
  await keys(page, 'Control+k');
  await page.keyboard.type('show all rows');
  await keys(page, 'Enter');
  await eventually(
    () => velocities(page, 'snare'),
    (now) => expect(now).toEqual(snare),
  );
});

test('the sheet follows a playhead that leaves it, and lets alone who scrolled away', async () => {
  await goTo(page, `${DEMO}/shape`);
  await page.focus('[role=grid]');
  await keys(page, '=', '=', '=', '=', '=', '=');
  const scrolled = () =>
    page.$eval('[class*=scroller]', (view) => (view as HTMLElement).scrollLeft);
  await page.$eval('[class*=scroller]', (view) => view.scrollTo({ left: 0 }));
  await keys(page, 'Space');
  await eventually(scrolled, (left) => expect(left).toBeGreaterThan(200));
  // Scrolled away while it plays: it stays there until the playhead has come and gone.
  const away = await page.$eval('[class*=scroller]', (view) => {
    view.scrollTo({ left: view.scrollWidth });
    return view.scrollLeft;
  });
  await drawn(page);
  await drawn(page);
  expect(await scrolled()).toBe(away);
  await keys(page, 'Space');
});
