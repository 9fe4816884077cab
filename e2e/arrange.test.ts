import type { Browser, Page } from 'puppeteer-core';
import {
  DEMO,
  drag,
  drawn,
  goTo,
  keys,
  launch,
  named,
  newSong,
  openPage,
  pause,
  press,
  pressButton,
  saved,
  seesText,
  stepPoint,
} from './browser';

let browser: Browser;
let page: Page;
let errors: string[];

beforeAll(async () => {
  browser = await launch();
  ({ page, errors } = await openPage(browser));
  // The demo is in storage before the page is left: the browser may not answer again if it is not.
  await page.waitForSelector('li canvas', { timeout: 30_000 });
});
afterAll(async () => {
  await browser.close();
  expect(errors).toEqual([]);
});

const places = () =>
  page.$$eval('[aria-label="sections in order"] button', (buttons) =>
    buttons.map((button) => (button as HTMLElement).innerText.replace('\n', ', ')),
  );

async function middleOf(selector: string) {
  const box = (await (await page.waitForSelector(selector))!.boundingBox())!;
  return { x: box.x + box.width / 2, y: box.y + box.height / 2, box };
}

describe('a song put together', () => {
  test('two patterns in a row become two sections', async () => {
    await newSong(page);
    await press(page, await stepPoint(page, 'kick', 0));
    await keys(page, 'Alt+n');
    await press(page, await stepPoint(page, 'snare', 960));
    await keys(page, 'Alt+3');
    await seesText(page, 'Nothing is woven yet');
    await pressButton(page, 'add a section that plays First beat');
    await pressButton(page, 'add a section that plays Beat 2');
    expect(await places()).toEqual(['First beat, 4 bars', 'Beat 2, 4 bars']);
    await seesText(page, '8 bars · 16 s');
  });

  test('a section is repeated as a linked place, moved, renamed and given a length', async () => {
    await keys(page, 'Control+d');
    await seesText(page, '12 bars');
    expect((await places())[2]).toBe('Beat 2 2, 4 bars · 2 linked');
    await keys(page, 'Alt+ArrowLeft', 'Alt+ArrowLeft');
    expect((await places())[0]).toContain('Beat 2');
    const bars = await named(page, 'bars');
    await bars.click();
    await keys(page, 'Control+a', '2', 'Enter');
    await seesText(page, '8 bars · 16 s');
    await (await page.waitForSelector('[aria-label^="name of the section"]'))!.click();
    await page.keyboard.type('chorus');
    await keys(page, 'Enter');
    expect((await places()).filter((name) => name?.startsWith('chorus'))).toHaveLength(2);
    await page.click('body');
    await keys(page, 'Control+z');
    expect((await places())[0]).toContain('Beat 2');
    await keys(page, 'Control+y');
  });

  test('a header is dragged to another place in the song', async () => {
    const before = await places();
    const list = await page.$$('[aria-label="sections in order"] button');
    const [first, , last] = await Promise.all(list.map((button) => button.boundingBox()));
    const middle = (box: typeof first) => ({ x: box!.x + box!.width / 2, y: box!.y + 10 });
    const target = middle(last);
    await drag(page, [middle(first), { ...target, x: target.x - 20 }, target]);
    await pause(300);
    const after = await places();
    expect(after).toHaveLength(3);
    expect(after[0]).toContain(before[1]!.split(',')[0].split(' ')[0]);
  });

  test('a pattern is dragged from the shelf into the song', async () => {
    const shelf = await middleOf('[aria-label=patterns] li');
    const header = await middleOf('[aria-label="sections in order"] button');
    await drag(page, [shelf, { x: header.x - 10, y: header.y + 4 }, header]);
    await pause(300);
    expect(await places()).toHaveLength(4);
  });

  test('a fill is laid at the end of one place only, and taken out again', async () => {
    await pressButton(page, 'lay a fill at the end');
    const items = await page.waitForSelector('[role=menu] [role=menuitem]');
    await items!.click();
    await seesText(page, 'here only');
    await keys(page, 'Control+z');
    expect(await page.evaluate(() => document.body.innerText)).not.toContain('here only');
  });

  test('a place is removed, brought back by undo, and all of it is there after a reload', async () => {
    await page.click('[aria-label="sections in order"] button');
    await pressButton(page, 'remove');
    expect(await places()).toHaveLength(3);
    await keys(page, 'Control+z');
    const before = await places();
    expect(before).toHaveLength(4);
    await saved(page);
    await page.reload();
    await page.waitForSelector('[aria-label="sections in order"] button');
    expect(await places()).toEqual(before);
  });
});

describe('the ribbon', () => {
  const map = '[role=slider][aria-label^="place in the song"]';

  test('a drag loops whole bars, a press goes elsewhere', async () => {
    await goTo(page, `${DEMO}/weave`);
    const { box, y } = await middleOf(map);
    await drag(page, [
      { x: box.x + box.width * 0.2, y },
      { x: box.x + box.width * 0.25, y },
    ]);
    const text = await seesText(page, /loop \d+ to \d+/);
    const [from, to] = text.match(/\d+/g)!.map(Number);
    expect(to - from).toBeGreaterThanOrEqual(2);
    expect(from).toBeGreaterThan(8);
    await page.mouse.click(box.x + box.width * 0.8, y);
    await seesText(page, 'no loop');
    const position = await page.$eval('[role=timer]', (timer) => timer.textContent!);
    expect(Number(position.split(' ')[0])).toBeGreaterThan(40);
  });

  test('arrows go bar by bar, Shift and arrows loop', async () => {
    await page.focus(map);
    await keys(page, ...Array(70).fill('ArrowLeft'), 'ArrowRight', 'ArrowRight');
    await pause(100);
    const position = await page.$eval('[role=timer]', (timer) => timer.textContent!);
    expect(position).toBe('3 · 1 · 00');
    await keys(page, 'Shift+ArrowRight', 'Shift+ArrowRight');
    await seesText(page, 'loop 3 to 4');
  });

  test('pressing a bar of the cloth plays from there and chooses its section', async () => {
    const { box } = await middleOf('main canvas');
    await page.mouse.click(box.x + box.width * 0.3, box.y + 60);
    await page.waitForSelector('[aria-label=stop]');
    const position = await page.$eval('[role=timer]', (timer) => timer.textContent!);
    expect(Number(position.split(' ')[0])).toBeGreaterThan(14);
    await keys(page, 'Space');
  });
});

describe('a strand of the cloth', () => {
  const cloth = '[aria-label*="kit pieces"]';

  /** Goes over the cloth until the strand of a pattern is under the pointer. */
  async function findStrand(title: string) {
    const { box } = await middleOf(cloth);
    for (let y = 8; y < box.height; y += 10) {
      for (const x of [0.09, 0.15, 0.2]) {
        await page.mouse.move(box.x + box.width * x, box.y + y);
        await drawn(page);
        const said = await page
          .$eval('[data-grip]', (grip) => grip.getAttribute('title')!)
          .catch(() => '');
        if (said.startsWith(title)) return { x: box.x + box.width * x, y: box.y + y };
      }
    }
    throw new Error(`${title} is not on the cloth`);
  }

  const headerOf = (name: string) =>
    middleOf(`[aria-label="sections in order"] button[title^="${name}"]`);

  test('is dragged onto another section, in all its places or with Shift in one', async () => {
    await goTo(page, `${DEMO}/weave`);
    await page.waitForSelector(cloth);
    const hats = await findStrand('hi-hat of “Verse, lamp trimmed”');
    const chorus = await headerOf('chorus 1');
    await drag(page, [hats, { x: chorus.x, y: chorus.y + 60 }, { x: chorus.x, y: chorus.y + 80 }]);
    await page.mouse.click(chorus.x, chorus.y);
    await seesText(page, 'Verse, lamp trimmed · bars 1 to 8, hi-hat only');
    const third = await headerOf('chorus 3');
    await page.mouse.click(third.x, third.y);
    await seesText(page, 'Verse, lamp trimmed · bars 1 to 8, hi-hat only');
    await keys(page, 'Control+z');
    await findStrand('hi-hat of “Verse, lamp trimmed”');
    await page.keyboard.down('Shift');
    await drag(page, [hats, { x: chorus.x, y: chorus.y + 60 }, chorus]);
    await page.keyboard.up('Shift');
    await page.mouse.click(chorus.x, chorus.y);
    await seesText(page, 'hi-hat only, here only');
    await keys(page, 'Control+z');
  });

  test('is dragged onto a pattern of the shelf, and takes the place of that piece', async () => {
    const hats = await findStrand('hi-hat of “Verse, lamp trimmed”');
    const fifth = await middleOf('[aria-label=patterns] li:nth-child(5)');
    await drag(page, [hats, { x: fifth.x, y: fifth.y - 20 }, { x: fifth.x, y: fifth.y }]);
    await page.click('[aria-label=patterns] li:nth-child(5) button');
    await page.waitForSelector('[role=grid][aria-label^="Bridge"] [id^="cell-hihat-"]');
    await keys(page, 'Control+z', 'Alt+3');
    await page.waitForSelector(cloth);
  });

  test('is laid over the chosen section with keys alone', async () => {
    await keys(page, 'ArrowRight', 't');
    await seesText(page, 'Take from');
    await seesText(page, 'the chosen section');
    await pressButton(page, 'take');
    await page.waitForSelector('[role=dialog]', { hidden: true });
    await seesText(page, 'undo');
    await keys(page, 'Control+z');
  });

  test('patterns of the shelf are put in another order by hand', async () => {
    const names = () =>
      page.$$eval('[aria-label=patterns] li', (rows) => rows.map((row) => row.textContent!));
    const before = await names();
    const row = (n: number) => middleOf(`[aria-label=patterns] li:nth-child(${n})`);
    const [first, third] = [await row(1), await row(3)];
    await drag(page, [first, { x: third.x, y: third.y - 10 }, third]);
    await pause(300);
    const after = await names();
    expect(after[2]).toBe(before[0]);
    expect([...after].sort()).toEqual([...before].sort());
    await keys(page, 'Control+z');
    expect(await names()).toEqual(before);
  });
});
