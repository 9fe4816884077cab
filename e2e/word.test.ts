/** @about stages/shape stages/weave stages/gather */
import type { Page } from 'puppeteer-core';
import {
  atStage,
  changing,
  chooseFromMenu,
  DEMO,
  drag,
  drawn,
  edits,
  eventually,
  freshPages,
  goTo,
  hitsOf,
  keys,
  named,
  newSong,
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

/** Does something by its name. */
async function byName(name: string): Promise<void> {
  await keys(page, 'Control+k');
  await page.waitForSelector('[aria-label="find a command"] input');
  await page.keyboard.type(name);
  await keys(page, 'Enter');
}

const focused = () =>
  page.evaluate(() => {
    const { activeElement } = document;
    return activeElement?.getAttribute('aria-label') ?? activeElement?.textContent ?? '';
  });
const atWork = () => page.evaluate(() => document.activeElement?.matches('[data-work]') ?? false);

/** The browser's own copy or paste, as its keys make it. */
async function clipboard(command: 'copy' | 'paste'): Promise<void> {
  await page.keyboard.down('Control');
  await page.keyboard.press(command === 'copy' ? 'c' : 'v', {
    commands: [command],
  });
  await page.keyboard.up('Control');
}

/** A new song with one hit, and the tool open that sets its velocity. */
async function openedOnOneHit(): Promise<void> {
  await newSong(page);
  await page.focus('[role=grid]');
  await changing(page, () => keys(page, '5'));
  await keys(page, 'r');
  await chooseFromMenu(page, 'd', 's');
}

const TAB = 'HH |x-x-x-x-|\nSD |--o---o-|';

test('digits typed while a tool is open are its number, and Enter keeps at the first press', async () => {
  await openedOnOneHit();
  await seesText(page, 'Enter keeps');
  const before = await edits(page);
  await page.keyboard.type('93');
  await keys(page, 'Enter');
  await eventually(
    () => edits(page),
    (now) => expect(now).toBe(before + 1),
  );
  const [piece] = (await page.$eval('[role=grid]', (grid) =>
    grid.getAttribute('aria-activedescendant'),
  ))!
    .replace('cell-', '')
    .split(/-\d+$/);
  expect(await velocities(page, piece)).toEqual([93]);
  expect(await hitsOf(page, piece)).toHaveLength(1);
  expect(await atWork()).toBe(true);
});

test('a number out of range says its range and stays to be mended', async () => {
  await openedOnOneHit();
  await seesText(page, 'Enter keeps');
  await page.keyboard.type('300');
  await seesText(page, '1 to 127');
  await keys(page, 'Enter');
  await seesText(page, 'Enter keeps');
  await keys(page, 'Control+a');
  await page.keyboard.type('30');
  await changing(page, () => keys(page, 'Enter'));
});

test('Enter on a button or a list of an open tool is that of the button or the list', async () => {
  await openedOnOneHit();
  const before = await edits(page);
  await page.keyboard.type('93');
  await (await named(page, 'take back')).focus();
  expect(await focused()).toBe('take back');
  await keys(page, 'Enter');
  await page.waitForFunction(() => !document.body.innerText.includes('Enter keeps'));
  expect(await edits(page)).toBe(before);
});

test('what is tried out when the stage is left is said, and can be had after all', async () => {
  await openedOnOneHit();
  await page.keyboard.type('93');
  await seesText(page, 'Enter keeps');
  await (await named(page, 'Weave')).click();
  await seesText(page, 'What was tried out is not kept');
  await changing(page, () => pressButton(page, 'keep it'));
});

test('tablature is pasted once, on every stage', async () => {
  const path = await newSong(page);
  await page.focus('[role=grid]');
  await changing(page, () => keys(page, '5'));
  await keys(page, 'r', 'Control+c');
  await byName('tablature');
  const text = '[aria-label=tablature]';
  await page.waitForSelector(text);
  await page.focus(text);
  await keys(page, 'Control+a');
  await page.keyboard.type(TAB);
  await keys(page, 'Control+a');
  await clipboard('copy');
  await keys(page, 'Escape');
  await page.waitForFunction((one) => !document.querySelector(one), {}, text);
  for (const stage of ['shape', 'weave', 'gather']) {
    await goTo(page, `${path}/${stage}`);
    await drawn(page);
    const before = await edits(page);
    await clipboard('paste');
    await seesText(page, '6 hits in 1 bar');
    await pressButton(page, 'make it a pattern');
    await page.waitForSelector('[role=grid][aria-label^="From tablature"]');
    await eventually(
      () => edits(page),
      (now) => expect(now).toBe(before + 1),
    );
  }
});

test('what is pressed gives the focus back to the work', async () => {
  await goTo(page, `${DEMO}/shape`);
  await page.focus('[role=grid]');
  // The picture in a button is the button.
  const icon = (await page.waitForSelector('[aria-label="zoom time in"] svg'))!;
  await icon.click();
  await eventually(atWork, (there) => expect(there).toBe(true));
  // A list that is left by Escape, or chosen from with Enter.
  const list = '[role=combobox]';
  for (const key of ['Escape', 'Enter'] as const) {
    await (await page.waitForSelector(list))!.click();
    await page.waitForSelector('[role=listbox]');
    await keys(page, key);
    await page.waitForFunction(() => !document.querySelector('[role=listbox]'));
    await eventually(atWork, (there) => expect(there).toBe(true));
  }
});

test('the tempo opens with its field focused; Ctrl E leads to what writes', async () => {
  await goTo(page, `${DEMO}/weave`);
  await drawn(page);
  await (await page.waitForSelector('[aria-label^="tempo: "]'))!.click();
  await eventually(
    () => page.evaluate(() => (document.activeElement as HTMLInputElement).tagName),
    (tag) => expect(tag).toBe('INPUT'),
  );
  await keys(page, 'Control+a');
  await page.keyboard.type('101');
  await changing(page, () => keys(page, 'Enter'));
  await keys(page, 'Escape');
  await keys(page, 'Control+e');
  await eventually(focused, (name) => expect(name).toMatch(/^write/));
});

test('the palette does on another stage what is of it, and the reach is remembered', async () => {
  await goTo(page, `${DEMO}/weave`);
  await drawn(page);
  await pressButton(page, 'everywhere');
  await keys(page, 'Control+k');
  await page.keyboard.type('zoom to fit');
  await seesText(page, 'in Shape');
  await keys(page, 'Enter');
  await page.waitForSelector('[role=grid]');
  await page.reload();
  await page.waitForSelector('[role=grid]');
  await goTo(page, `${DEMO}/weave`);
  await page.waitForSelector('[aria-pressed=true]::-p-text(everywhere)');
});

test('a straight drag of what is selected to a low neighbour moves it, as loud as it was', async () => {
  await newSong(page);
  await press(page, await stepPoint(page, 'snare', 960, 100));
  await page.focus('[role=grid]');
  // Rows without hits are lower than rows with some.
  const [before] = await hitsOf(page, 'snare');
  await keys(page, 'Control+a');
  const from = await stepPoint(page, 'snare', 960, 100);
  const low = await stepPoint(page, 'tom-high', 960, 64);
  await changing(page, () => drag(page, [from, { x: from.x, y: low.y }]));
  expect(await hitsOf(page, 'snare')).toEqual([]);
  expect(await hitsOf(page, 'tom-high')).toEqual([before.replace('snare', 'tom, high')]);
});

test('fit shows the whole pattern, and no more', async () => {
  await goTo(page, `${DEMO}/shape`);
  await page.focus('[role=grid]');
  const seen = () =>
    page.$eval('[role=grid]', (grid) => {
      let box: Element = grid;
      while (box.scrollWidth <= box.clientWidth && box.parentElement) box = box.parentElement;
      return box.scrollWidth - box.clientWidth;
    });
  await keys(page, '=', '=', '=');
  await eventually(seen, (over) => expect(over).toBeGreaterThan(20));
  await keys(page, 'z');
  await eventually(seen, (over) => expect(over).toBeLessThanOrEqual(1));
});

test('an empty bar that gets another meter stays one bar, whose beats are dotted in 6/8', async () => {
  await newSong(page);
  const field = await page.waitForSelector('xpath///label[.="meter"]/following::input[1]');
  await field!.click({ clickCount: 3 });
  await page.keyboard.type('6/8');
  await changing(page, () => keys(page, 'Enter'));
  await page.focus('[role=grid]');
  expect(await page.$$('[id^="cell-kick-"]')).toHaveLength(12);
  await changing(page, async () => press(page, await stepPoint(page, 'kick', 1440)));
  expect(await hitsOf(page, 'kick')).toEqual([
    expect.stringMatching(/^kick, bar 1 beat 2, velocity/),
  ]);
});

test('what the turn offers closes with Escape', async () => {
  await newSong(page);
  await page.focus('[role=grid]');
  await keys(page, '9', 'g');
  await seesText(page, 'The turn: bar 2');
  await keys(page, 'Escape');
  await page.waitForFunction(() => !document.body.innerText.includes('The turn: bar 2'));
});

test('a dialog does nothing with a number that cannot be: its button leads back to the field', async () => {
  await goTo(page, `${DEMO}/weave`);
  await drawn(page);
  await keys(page, 'ArrowRight', 'f');
  const field = await page.waitForSelector('input[aria-label^="last beats of it"]');
  await field!.click({ clickCount: 3 });
  await page.keyboard.type('99');
  const before = await edits(page);
  const lay = await page.waitForSelector('[role=dialog] .MuiButton-contained');
  await lay!.click();
  await page.waitForSelector('input[aria-invalid=true]:focus');
  expect(await edits(page)).toBe(before);
  await keys(page, 'Control+a');
  await page.keyboard.type('1');
  await changing(page, () => lay!.click());
});

test('a row that is scaled by its name in one place is another there alone, and Escape takes it back', async () => {
  await goTo(page, `${DEMO}/weave`);
  await drawn(page);
  await pressButton(page, 'here only');
  await keys(page, 'ArrowRight', 'ArrowRight', 'e');
  await atStage(page, 'shape');
  await seesText(page, 'an edit here changes 1 place');
  const before = await velocities(page, 'kick');
  const name = await page.waitForSelector('aria/hear Kick[role="button"]');
  const { x, y } = (await name!.boundingBox())!;
  const from = { x: x + 20, y: y + 8 };
  const made = await edits(page);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(from.x, from.y + 30, { steps: 6 });
  await eventually(
    () => velocities(page, 'kick'),
    (now) => expect(now).not.toEqual(before),
  );
  await keys(page, 'Escape');
  await page.mouse.up();
  await eventually(
    () => velocities(page, 'kick'),
    (now) => expect(now).toEqual(before),
  );
  expect(await edits(page)).toBe(made);

  await changing(page, () => drag(page, [from, { x: from.x, y: from.y + 20 }]));
  const softer = before.map((velocity) => Math.round(0.8 * velocity));
  expect(await velocities(page, 'kick')).toEqual(softer);
  // The next place of the same section plays what it played.
  await pressButton(page, 'back to Weave');
  await atStage(page, 'weave');
  await keys(page, 'ArrowRight', 'ArrowRight', 'e');
  await atStage(page, 'shape');
  expect(await velocities(page, 'kick')).toEqual(before);
});
