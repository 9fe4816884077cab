/** @about stages/weave */
import type { Page } from 'puppeteer-core';
import {
  atStage,
  changing,
  DEMO,
  drag,
  drawn,
  eventually,
  freshPages,
  goTo,
  HOME,
  hitsOf,
  keys,
  named,
  newSong,
  nothingInFront,
  press,
  pressButton,
  saved,
  seesText,
  stepPoint,
} from './browser';

const bench = freshPages();
let page: Page;
beforeEach(async () => {
  page = bench.page;
  await goTo(page, `${DEMO}/weave`);
});

const places = () =>
  page.$$eval('[aria-label="sections in order"] button', (buttons) =>
    buttons.map((button) => (button as HTMLElement).innerText.replace('\n', ', ')),
  );
const laid = () =>
  page.$$eval('[aria-label="what is laid over the sections"] button', (tabs) =>
    tabs.map((tab) => tab.getAttribute('aria-label')!),
  );
const fact = (start: string) =>
  page.evaluate(
    (words) =>
      [...document.querySelectorAll('button')].find((one) => one.textContent!.startsWith(words))
        ?.textContent ?? '',
    start,
  );
const header = (n: number) =>
  `[aria-label="sections in order"] [role=listitem]:nth-child(${n}) button`;

/** Types into the field that has the focus, in place of what is there. */
async function type(text: string): Promise<void> {
  await keys(page, 'Control+a');
  await page.keyboard.type(text);
  await drawn(page);
}

const FORM =
  'intro 4, verse 8, chorus 8, verse 8, chorus 8, bridge 7/8 x 6, verse 8, chorus 8, outro 6';

/** Lays the form out anew, from the patterns of the shelf alone, with a fill at every join. */
async function layOut(count: () => void = () => {}): Promise<void> {
  const step = async (run: () => Promise<unknown>) => {
    count();
    await run();
  };
  await step(() => keys(page, 'Control+a'));
  await step(() => changing(page, () => keys(page, 'Delete')));
  await step(() => keys(page, 'w'));
  await page.waitForSelector('[role=dialog] textarea');
  await step(() => type(FORM));
  await step(() => changing(page, () => keys(page, 'Enter')));
  await nothingInFront(page);
  await eventually(places, (seen) => expect(seen).toHaveLength(9));
  await step(() => keys(page, 'Control+a'));
  await step(() => keys(page, 'f'));
  await page.waitForSelector('[role=dialog]');
  await step(() => changing(page, () => pressButton(page, 'lay it over 9 places')));
  await nothingInFront(page);
}

describe('a song laid out', () => {
  test('the whole form, with fills at every join, takes a handful of presses', async () => {
    let count = 0;
    await layOut(() => count++);
    expect(count).toBeLessThan(40);
    expect(await places()).toEqual([
      'intro, 4 bars',
      'verse 1, 8 bars · 3 linked',
      'chorus 1, 8 bars · 3 linked',
      'verse 2, 8 bars · 3 linked',
      'chorus 2, 8 bars · 3 linked',
      'bridge, 6 bars',
      'verse 3, 8 bars · 3 linked',
      'chorus 3, 8 bars · 3 linked',
      'outro, 6 bars',
    ]);
    await eventually(laid, (tabs) =>
      expect(tabs.filter((tab) => tab.startsWith('Fill'))).toHaveLength(9),
    );
    await seesText(page, '64 bars');
    await saved(page);
    await page.reload();
    await eventually(places, (seen) => expect(seen).toHaveLength(9));
  });

  test('a mistake in the form is told beside its word, and nothing is laid out', async () => {
    const before = await places();
    await keys(page, 'w');
    await page.waitForSelector('[role=dialog] textarea');
    await type('verse 8, bridge 7/9 x 6');
    await seesText(page, '7/9: “7/9” is no time signature');
    await keys(page, 'Enter', 'Escape');
    await nothingInFront(page);
    expect(await places()).toEqual(before);
  });

  test('several sections are chosen, copied and pasted; one is split and merged again', async () => {
    await page.click(header(2));
    await keys(page, 'Shift+ArrowRight');
    await seesText(page, '2 places chosen');
    await keys(page, 'Control+c');
    await changing(page, () => keys(page, 'Control+v'));
    await eventually(places, (seen) => expect(seen).toHaveLength(11));
    await changing(page, () => keys(page, 'Control+z'));
    await page.click(header(3));
    await keys(page, '.', '.', '.', '.', '.');
    await changing(page, () => keys(page, 's'));
    await eventually(places, (seen) => expect(seen).toHaveLength(12));
    await changing(page, () => keys(page, 'm'));
    await eventually(places, (seen) => expect(seen).toHaveLength(9));
  });

  test('a section is made longer, and what comes into it is seen before it is set', async () => {
    await page.click(header(3));
    await keys(page, 'b');
    await page.waitForSelector('[role=dialog] input');
    await type('12');
    await type('12');
    await seesText(page, '4 more; fills keep to the end. Changes 3 places.');
    await changing(page, () => pressButton(page, 'set'));
    await seesText(page, '76 bars');
    await eventually(places, (seen) => expect(seen[2]).toContain('12 bars'));
  });
});

describe('reach', () => {
  test('a verse edited once is changed in three places, and its fills stay', async () => {
    await layOut();
    await page.click(header(2));
    await seesText(page, 'an edit here changes 3 places');
    await keys(page, 'e');
    await atStage(page, 'shape');
    await seesText(page, 'verse 1, bars 5 to 6');
    await seesText(page, 'an edit here changes 3 places');
    await changing(page, async () => press(page, await stepPoint(page, 'crash', 0)));
    await pressButton(page, 'back to Weave');
    await atStage(page, 'weave');
    await page.click(header(7));
    await keys(page, 'e');
    await atStage(page, 'shape');
    await seesText(page, 'verse 3, bars');
    expect(await hitsOf(page, 'crash')).toHaveLength(1);
    await pressButton(page, 'back to Weave');
    await eventually(laid, (tabs) =>
      expect(tabs.filter((tab) => tab.startsWith('Fill'))).toHaveLength(9),
    );
  });

  test('one chorus is made different, keeps it under a change of all, and gives it up again', async () => {
    await page.click(header(5));
    await keys(page, 'r', 'r');
    await seesText(page, 'an edit here changes 1 place');
    await keys(page, 'e');
    await atStage(page, 'shape');
    await changing(page, async () => press(page, await stepPoint(page, 'snare', 240)));
    await pressButton(page, 'back to Weave');
    await atStage(page, 'weave');
    await seesText(page, 'snare only, here only');
    await page.click(header(3));
    expect(await page.evaluate(() => document.body.innerText)).not.toContain(
      'snare only, here only',
    );
    await page.click(header(5));
    await changing(page, () => keys(page, 'u'));
    expect(await page.evaluate(() => document.body.innerText)).not.toContain(
      'snare only, here only',
    );
  });

  test('what is locked is not changed; the refusal says which lock, and lifts it', async () => {
    await page.click(header(3));
    await changing(page, () => keys(page, 'z'));
    await keys(page, 'x');
    await seesText(page, 'The section “chorus” is locked against change.');
    await changing(page, () => pressButton(page, 'unlock'));
    await changing(page, () => keys(page, 'x'));
  });
});

describe('what is laid', () => {
  test('a fill is dragged along its lane, keeps its distance, and is taken out', async () => {
    const tab =
      '[aria-label="what is laid over the sections"] button[aria-label^="Fill, gull drop"]';
    const box = (await (await page.waitForSelector(tab))!.boundingBox())!;
    const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    const before = (await laid()).find((says) => says.startsWith('Fill, gull drop'))!;
    await changing(page, () => drag(page, [middle, { ...middle, x: middle.x - 40 }]));
    const after = (await laid()).find((says) => says.startsWith('Fill, gull drop'))!;
    expect(after).not.toBe(before);
    await changing(page, () => keys(page, 'Delete'));
    await eventually(laid, (tabs) => expect(tabs).not.toContain(after));
  });

  test('a pattern of the shelf is dropped on a row: only that piece', async () => {
    const shelf = await page.waitForSelector('[aria-label=patterns] li:nth-child(4)');
    const from = (await shelf!.boundingBox())!;
    const canvas = (await (await page.waitForSelector(
      '[aria-label*="kit pieces"]',
    ))!.boundingBox())!;
    const row = await page.waitForSelector('aria/Kick[role="button"]');
    const line = (await row!.boundingBox())!;
    const target = { x: canvas.x + canvas.width * 0.1, y: line.y + line.height / 2 };
    const start = { x: from.x + 20, y: from.y + 12 };
    await changing(page, () => drag(page, [start, { x: target.x, y: target.y - 20 }, target]));
    await seesText(page, 'Kick, rolling hull · bars 1 to 8, kick only');
  });

  test('an empty pattern is not laid, and what to do is offered', async () => {
    await page.goto(HOME);
    await newSong(page);
    await keys(page, 'Alt+3');
    await pressButton(page, 'add a section that plays First beat');
    await page.waitForSelector(header(1));
    const shelf = (await (await page.waitForSelector('[aria-label=patterns] li'))!.boundingBox())!;
    const head = (await (await page.waitForSelector(header(1)))!.boundingBox())!;
    const to = { x: head.x + head.width / 2, y: head.y + head.height / 2 };
    await drag(page, [{ x: shelf.x + 20, y: shelf.y + 12 }, { x: to.x - 20, y: to.y }, to]);
    await seesText(page, '“First beat” is empty');
    await pressButton(page, 'write into it');
    await atStage(page, 'shape');
  });
});

describe('what is found', () => {
  test('what comes twice is listed, marked as meant, and varied', async () => {
    await eventually(
      () => fact('repeated bars'),
      (says) => expect(says).toMatch(/\d+ %/),
    );
    const share = async () => Number(/\d+/.exec(await fact('repeated bars'))![0]);
    const before = await share();
    await keys(page, 'g');
    await page.waitForSelector('[role=option][aria-selected=true]');
    await changing(page, () => pressButton(page, 'keep as intended'));
    await eventually(share, (now) => expect(now).toBeLessThan(before));
    await keys(page, 'v');
    await page.waitForSelector('[aria-label=offers] li button[aria-label^="take"]');
    await changing(page, () => pressButton(page, 'take all'));
    const after = await share();
    await changing(page, () => keys(page, 'Control+z'));
    expect(after).toBeLessThan(before);
  });

  test('an offer that is only heard is not kept', async () => {
    await page.click(header(4));
    const before = await page.$eval('[data-edits]', (one) => one.getAttribute('data-edits'));
    await keys(page, 'v');
    const hear = await page.waitForSelector('[aria-label=offers] button[aria-label^="hear"]');
    await hear!.click();
    await page.waitForSelector('[aria-label=offers] button[aria-pressed=true]');
    await keys(page, 'Escape', 'v');
    await page.waitForSelector('section[aria-label="chosen section"], section[aria-label=vary]');
    expect(await page.$eval('[data-edits]', (one) => one.getAttribute('data-edits'))).toBe(before);
  });

  test('a bar nobody plays is found and mended', async () => {
    await page.click(header(2));
    await keys(page, 'e');
    await atStage(page, 'shape');
    for (const piece of ['crash', 'ride']) {
      await changing(page, async () => press(page, await stepPoint(page, piece, 960)));
    }
    await keys(page, 'Alt+3');
    await eventually(
      () => fact('8 not'),
      (says) => expect(says).toContain('not playable'),
    );
    await keys(page, 'y');
    await seesText(page, /crash, ride.* on 5\.2: (three|four) hands/);
    await changing(page, () => page.click('section[aria-label=playable] .MuiButton-contained'));
    await seesText(page, 'Two hands and two feet play all of it.');
  });

  test('kicks of the chorus are fitted to the bass', async () => {
    await page.click(header(3));
    await keys(page, 'j');
    await seesText(page, 'kick alone 45');
    await (await named(page, 'take out those alone')).hover();
    await seesText(page, /kick alone [0-3]?\d\b/);
    await changing(page, () => pressButton(page, 'take out those alone'));
    await seesText(page, /kick alone [0-3]?\d\b/);
  });
});

test('two save points are compared, and a section is brought back', async () => {
  const before = await places();
  await keys(page, 'Alt+s');
  await seesText(page, 'keeps the song as it is now');
  await page.click(header(6));
  await changing(page, () => keys(page, 'Delete'));
  await keys(page, 'Alt+s', 'Alt+Shift+s');
  await page.waitForSelector('[aria-label="save points"] li:nth-child(4)');
  await page.click('[aria-label="save points"] li:nth-child(2) button.MuiButton-root');
  await seesText(page, '“Save point 1”');
  await seesText(page, 'only then');
  await changing(page, () => pressButton(page, 'bring back bridge'));
  await seesText(page, 'Nothing differs.');
  await keys(page, 'Escape');
  await nothingInFront(page);
  expect(await places()).toEqual(before);
});

test('undo goes on after a reload, step by step, and from its list', async () => {
  const before = await places();
  await page.click(header(1));
  await changing(page, () => keys(page, 'Delete'));
  await changing(page, () => keys(page, 'Delete'));
  await saved(page);
  await page.reload();
  await eventually(places, (seen) => expect(seen).toHaveLength(7));
  await changing(page, () => keys(page, 'Control+z'));
  await eventually(places, (seen) => expect(seen).toHaveLength(8));
  await keys(page, 'Alt+z');
  await changing(page, () => pressButton(page, 'as it was opened'));
  await keys(page, 'Escape');
  await nothingInFront(page);
  expect(await places()).toEqual(before);
});

test('an order is performed with keys, and kept in one step', async () => {
  const before = await places();
  await keys(page, 'n');
  await page.waitForSelector('[role=dialog]');
  await keys(page, '1');
  const bar = () =>
    page.$eval('[role=dialog] [role=timer]', (timer) => Number(timer.textContent!.split(' ')[0]));
  await eventually(bar, (now) => expect(now).toBeGreaterThanOrEqual(2));
  await keys(page, '3');
  await eventually(bar, (now) => expect(now).toBeGreaterThanOrEqual(4));
  await keys(page, 'Space');
  await changing(page, () => pressButton(page, 'keep as the song’s order'));
  await nothingInFront(page);
  await eventually(places, (seen) => {
    expect(seen[0]).toContain('intro');
    expect(seen[1]).toContain('chorus');
  });
  await changing(page, () => keys(page, 'Control+z'));
  await eventually(places, (seen) => expect(seen).toEqual(before));
});
