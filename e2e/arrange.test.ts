/** @about stages/weave */
import type { Page } from 'puppeteer-core';
import {
  atStage,
  changing,
  DEMO,
  drag,
  drawn,
  eventually,
  goTo,
  keys,
  named,
  newSong,
  nothingInFront,
  press,
  pressButton,
  saved,
  seesText,
  stepPoint,
  freshPages,
} from './browser';

const bench = freshPages();
let page: Page;
beforeEach(() => {
  page = bench.page;
});

const places = () =>
  page.$$eval('[aria-label="sections in order"] button', (buttons) =>
    buttons.map((button) => (button as HTMLElement).innerText.replace('\n', ', ')),
  );

const placesAre = (expected: readonly string[]) =>
  eventually(places, (seen) => expect(seen).toEqual(expected));

async function middleOf(selector: string) {
  const box = (await (await page.waitForSelector(selector))!.boundingBox())!;
  return { x: box.x + box.width / 2, y: box.y + box.height / 2, box };
}

/** A song of one's own with two patterns, and a section for each. */
async function twoSections(): Promise<void> {
  await newSong(page);
  await press(page, await stepPoint(page, 'kick', 0));
  await changing(page, () => keys(page, 'Alt+n'));
  await press(page, await stepPoint(page, 'snare', 960));
  await keys(page, 'Alt+3');
  await seesText(page, 'Nothing is woven yet');
  await pressButton(page, 'add a section that plays First beat');
  await pressButton(page, 'add a section that plays Beat 2');
  await placesAre(['First beat, 4 bars', 'Beat 2, 4 bars']);
}

describe('a song put together', () => {
  test('two patterns in a row become two sections', async () => {
    await twoSections();
    await seesText(page, '8 bars · 16 s');
  });

  test('a section is repeated as a linked place, moved, renamed and given a length', async () => {
    await twoSections();
    await changing(page, () => keys(page, 'Control+d'));
    await seesText(page, '12 bars');
    expect((await places())[2]).toBe('Beat 2 2, 4 bars · 2 linked');
    await keys(page, 'Alt+ArrowLeft', 'Alt+ArrowLeft');
    expect((await places())[0]).toContain('Beat 2');
    const bars = await named(page, 'bars');
    await bars.click();
    await changing(page, () => keys(page, 'Control+a', '2', 'Enter'));
    await seesText(page, '8 bars · 16 s');
    await (await page.waitForSelector('[aria-label^="name of the section"]'))!.click();
    await page.keyboard.type('chorus');
    await changing(page, () => keys(page, 'Enter'));
    const renamed = (names: string[]) => names.filter((name) => name.startsWith('chorus'));
    expect(renamed(await places())).toHaveLength(2);
    await page.click('body');
    await changing(page, () => keys(page, 'Control+z'));
    expect((await places())[0]).toContain('Beat 2');
    await changing(page, () => keys(page, 'Control+y'));
    expect(renamed(await places())).toHaveLength(2);
  });

  test('a header is dragged to another place in the song', async () => {
    await twoSections();
    const list = await page.$$('[aria-label="sections in order"] button');
    const [first, second] = await Promise.all(list.map((button) => button.boundingBox()));
    const middle = (box: typeof first) => ({ x: box!.x + box!.width / 2, y: box!.y + 10 });
    const target = middle(second);
    await drag(page, [middle(first), { ...target, x: target.x - 20 }, target]);
    await placesAre(['Beat 2, 4 bars', 'First beat, 4 bars']);
  });

  test('a pattern is dragged from the shelf into the song', async () => {
    await twoSections();
    const shelf = await middleOf('[aria-label=patterns] li');
    const header = await middleOf('[aria-label="sections in order"] button');
    const edge = { x: header.box.x + 12, y: header.y };
    await drag(page, [shelf, { x: edge.x + 10, y: edge.y + 4 }, edge]);
    await eventually(places, (seen) => expect(seen).toHaveLength(3));
  });

  test('a fill is laid at the end of one place only, and taken out again', async () => {
    await twoSections();
    await pressButton(page, 'lay a fill …');
    await changing(page, () => pressButton(page, 'lay it over 1 place'));
    await seesText(page, ', here only');
    await nothingInFront(page);
    await changing(page, () => keys(page, 'Control+z'));
    expect(await page.evaluate(() => document.body.innerText)).not.toContain(', here only');
  });

  test('what has no key of its own is reached by its name: menus, lists and fields', async () => {
    await twoSections();
    await page.click('[aria-label="sections in order"] button');
    const find = async (words: string) => {
      await keys(page, 'Control+k');
      await page.waitForSelector('[role=dialog]');
      await page.keyboard.type(words);
      await keys(page, 'Enter');
      await page.waitForSelector('[role=dialog]', { hidden: true });
    };
    await find('play another pattern');
    await page.waitForSelector('[role=menu] [role=menuitem]');
    await keys(page, 'Escape');
    await nothingInFront(page);
    await find('kind of this section');
    await page.waitForSelector('[role=listbox] [role=option]');
    await keys(page, 'Escape');
    await nothingInFront(page);
    await find('bars of this section');
    await eventually(
      () => page.evaluate(() => (document.activeElement as HTMLInputElement).value),
      (value) => expect(value).toBe('4'),
    );
    await changing(page, () => keys(page, '6', 'Enter'));
    await placesAre(['First beat, 6 bars', 'Beat 2, 4 bars']);
  });

  test('a place is removed, brought back by undo, and all of it is there after a reload', async () => {
    await twoSections();
    await page.click('[aria-label="sections in order"] button');
    await changing(page, () => pressButton(page, 'take out'));
    await placesAre(['Beat 2, 4 bars']);
    await changing(page, () => keys(page, 'Control+z'));
    await placesAre(['First beat, 4 bars', 'Beat 2, 4 bars']);
    await saved(page);
    await page.reload();
    await placesAre(['First beat, 4 bars', 'Beat 2, 4 bars']);
  });
});

describe('the ribbon', () => {
  const map = '[role=slider][aria-label^="place in the song"]';
  const position = () => page.$eval('[role=timer]', (timer) => timer.textContent!);
  const barNow = async () => Number((await position()).split(' ')[0]);

  beforeEach(() => goTo(page, `${DEMO}/weave`));

  test('a drag loops whole bars, a press goes elsewhere', async () => {
    const { box, y } = await middleOf(map);
    await drag(page, [
      { x: box.x + box.width * 0.2, y },
      { x: box.x + box.width * 0.25, y },
    ]);
    const text = await seesText(page, /loop \d+ to \d+/);
    const [from, to] = text.match(/\d+/g)!.map(Number);
    expect(to - from).toBeGreaterThanOrEqual(2);
    expect(from).toBeGreaterThan(8);
    await press(page, { x: box.x + box.width * 0.8, y });
    await seesText(page, 'no loop');
    await eventually(barNow, (bar) => expect(bar).toBeGreaterThan(40));
  });

  test('arrows go bar by bar, Shift and arrows loop', async () => {
    await page.focus(map);
    await keys(page, 'ArrowRight', 'ArrowRight', 'ArrowRight', 'ArrowLeft');
    await eventually(position, (seen) => expect(seen).toBe('3 · 1 · 00'));
    await keys(page, 'Shift+ArrowRight', 'Shift+ArrowRight');
    await seesText(page, 'loop 3 to 4');
  });

  test('pressing a bar of the cloth plays from there and chooses its section', async () => {
    const { box } = await middleOf('main canvas');
    await page.mouse.click(box.x + box.width * 0.3, box.y + 60);
    await page.waitForSelector('[aria-label=stop]');
    await eventually(barNow, (bar) => expect(bar).toBeGreaterThan(14));
  });
});

describe('a strand of the cloth', () => {
  const cloth = '[aria-label*="kit pieces"]';

  beforeEach(async () => {
    await goTo(page, `${DEMO}/weave`);
    await page.waitForSelector(cloth);
  });

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

  test('is dragged onto another section, in all its places', async () => {
    const hats = await findStrand('hi-hat of “Verse, lamp trimmed”');
    const chorus = await headerOf('chorus 1');
    await changing(page, () =>
      drag(page, [hats, { x: chorus.x, y: chorus.y + 60 }, { x: chorus.x, y: chorus.y + 80 }]),
    );
    for (const name of ['chorus 1', 'chorus 3']) {
      await press(page, await headerOf(name));
      await seesText(page, 'Verse, lamp trimmed · bars 1 to 8, hi-hat only');
    }
  });

  test('is dragged with Shift onto one place alone', async () => {
    const hats = await findStrand('hi-hat of “Verse, lamp trimmed”');
    const chorus = await headerOf('chorus 1');
    await page.keyboard.down('Shift');
    await changing(page, () => drag(page, [hats, { x: chorus.x, y: chorus.y + 60 }, chorus]));
    await page.keyboard.up('Shift');
    await press(page, chorus);
    await seesText(page, 'hi-hat only, here only');
  });

  test('is dragged onto a pattern of the shelf, and takes the place of that piece', async () => {
    const hats = await findStrand('hi-hat of “Verse, lamp trimmed”');
    const fifth = await middleOf('[aria-label=patterns] li:nth-child(5)');
    await changing(page, () =>
      drag(page, [hats, { x: fifth.x, y: fifth.y - 20 }, { x: fifth.x, y: fifth.y }]),
    );
    await page.click('[aria-label=patterns] li:nth-child(5) button');
    await page.waitForSelector('[role=grid][aria-label^="Bridge"] [id^="cell-hihat-"]');
  });

  test('is laid over the chosen section with keys alone', async () => {
    await keys(page, 'ArrowRight', 't');
    await seesText(page, 'Copy from');
    await seesText(page, 'the chosen section');
    await changing(page, () => pressButton(page, 'copy'));
    await page.waitForSelector('[role=dialog]', { hidden: true });
  });

  test('patterns of the shelf are put in another order by hand', async () => {
    const names = () =>
      page.$$eval('[aria-label=patterns] li', (rows) => rows.map((row) => row.textContent!));
    const before = await names();
    const row = (n: number) => middleOf(`[aria-label=patterns] li:nth-child(${n})`);
    const [first, third] = [await row(1), await row(3)];
    await drag(page, [first, { x: third.x, y: third.y - 10 }, third]);
    await eventually(names, (after) => {
      expect(after[2]).toBe(before[0]);
      expect([...after].sort()).toEqual([...before].sort());
    });
    await changing(page, () => keys(page, 'Control+z'));
    await eventually(names, (after) => expect(after).toEqual(before));
  });
});

test('the stages of a song are a press apart', async () => {
  await goTo(page, `${DEMO}/weave`);
  await keys(page, 'Alt+2');
  await atStage(page, 'shape');
});
