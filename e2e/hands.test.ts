/** @about shell */
import type { Page } from 'puppeteer-core';
import {
  atStage,
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

/** What has the focus: its role, or what it is called. */
const focused = () =>
  page.evaluate(() => {
    const { activeElement: element } = document;
    return element?.getAttribute('role') ?? element?.getAttribute('aria-label') ?? element?.tagName;
  });

const onWork = (what: string) => eventually(focused, (seen) => expect(seen).toBe(what));

const isPlaying = async () => (await page.$('button[aria-label=stop]')) !== null;

/** Presses Space twice: it plays, and it stops, and does nothing else. */
async function spacePlays(): Promise<void> {
  for (const playing of [true, false]) {
    await keys(page, 'Space');
    await eventually(isPlaying, (now) => expect(now).toBe(playing));
  }
}

describe('keys work from everywhere but inside a text', () => {
  test('Space plays after a slider, a typed field, a button and a name', async () => {
    await newSong(page);
    await press(page, await stepPoint(page, 'snare', 240));
    await page.focus('[role=grid]');
    await keys(page, 'Control+a');
    // A tool opens on its slider, which keeps its arrows; Space and Escape are the page's.
    await chooseFromMenu(page, 'd', 's');
    await page.waitForSelector('input[type=range]:focus');
    await spacePlays();
    await keys(page, 'Escape');
    await onWork('grid');

    await page.click('xpath///button[.="click"]');
    await drawn(page);
    await onWork('grid');
    await spacePlays();

    // A choice that is made with the mouse leaves its keys to the page, too.
    await page.click('[role=combobox]');
    const fill = await page.waitForSelector('::-p-xpath(//*[@role="option"][.="fill"])');
    await fill!.click();
    await onWork('grid');
    await spacePlays();
    await changing(page, () => keys(page, 'Control+z'));

    const songName = () => page.$eval('[aria-label^="name of the song"]', (e) => e.textContent);
    for (const [text, key] of [
      ['Kelp', 'Enter'],
      ['Oops', 'Escape'],
    ]) {
      await page.click('[aria-label^="name of the song"]');
      await page.keyboard.type(text);
      await keys(page, key);
      await onWork('grid');
      expect(await songName()).toBe('Kelp');
      await spacePlays();
    }
    await changing(page, () => keys(page, 'Control+z'));
    expect(await songName()).toBe('New song');
    await changing(page, () => keys(page, 'Control+z'));
    expect(await hitsOf(page, 'snare')).toEqual([]);
  });

  test('the palette writes a note on a groove, and what is typed next is the note', async () => {
    await goTo(page, `${DEMO}/gather`);
    await keys(page, 'ArrowDown', 'Control+k');
    await page.keyboard.type('write note');
    await keys(page, 'Enter');
    await page.waitForSelector('textarea:focus, input[aria-label^="note on"]:focus');
    await page.keyboard.type('keep x');
    await eventually(
      () => page.evaluate(() => (document.activeElement as HTMLInputElement).value),
      (text) => expect(text).toBe('keep x'),
    );
  });

  test('a bar and a section are gone to by typing them, in the position and in the palette', async () => {
    await goTo(page, `${DEMO}/weave`);
    const position = () => page.$eval('[role=timer]', (timer) => timer.textContent);
    await keys(page, 'Control+g');
    await page.keyboard.type('25.3');
    await keys(page, 'Enter');
    await eventually(position, (text) => expect(text).toMatch(/^25 · 3 · 00/));
    await keys(page, 'Control+k');
    await page.keyboard.type('chorus 2');
    await seesText(page, 'go to chorus 2, bar');
    await keys(page, 'Enter');
    await eventually(position, (text) => expect(text).toMatch(/^\d+ · 1 · 00/));
    await eventually(position, (text) => expect(text).not.toMatch(/^25/));
    await keys(page, 'Control+Shift+ArrowRight', 'Control+ArrowRight');
    await eventually(position, (text) => expect(text).toMatch(/· 2 · 00/));
  });

  test('a section that was pressed does not catch Space and arrows', async () => {
    await goTo(page, `${DEMO}/weave`);
    const names = () =>
      page.$$eval('[aria-label="sections in order"] button', (all) =>
        all.map((b) => b.textContent),
      );
    const before = await names();
    const [, second] = await page.$$('[aria-label="sections in order"] button');
    await second.click();
    await spacePlays();
    await keys(page, 'ArrowRight', 'ArrowRight');
    expect(await names()).toEqual(before);
    await eventually(
      () =>
        page.$$eval('[aria-label="sections in order"] button', (all) =>
          all.findIndex((b) => b.ariaPressed === 'true'),
        ),
      (at) => expect(at).toBe(3),
    );
  });

  test('the lines used most stand beside the hits that are selected, and a run of a slider is one step', async () => {
    await newSong(page);
    await press(page, await stepPoint(page, 'snare', 240));
    await press(page, await stepPoint(page, 'snare', 960));
    await page.focus('[role=grid]');
    await keys(page, 'Control+a');
    const before = await velocities(page, 'snare');
    await pressButton(page, 'ramp');
    await page.waitForSelector('[role=group][aria-label=ramp]');
    await keys(page, 'Escape');
    await onWork('grid');
    await page.focus('aside input[aria-label=velocity]');
    for (let presses = 0; presses < 3; presses++) await page.keyboard.press('ArrowLeft');
    await eventually(
      () => velocities(page, 'snare'),
      (now) => expect(now).toEqual(before.map((velocity) => velocity - 3)),
    );
    await keys(page, 'Control+z');
    await eventually(
      () => velocities(page, 'snare'),
      (now) => expect(now).toEqual(before),
    );
  });

  test('the focus is never lost: after a dialog, a removal, its undoing and a change of stage', async () => {
    await goTo(page, `${DEMO}/shape`);
    await page.focus('[role=grid]');
    await keys(page, 'Control+k');
    await page.waitForSelector('[role=dialog]');
    await keys(page, 'Escape');
    await nothingInFront(page);
    await onWork('grid');
    // The song plays it: where is said, and Enter removes it.
    await keys(page, 'Alt+Delete');
    await seesText(page, /It is played in .*, and falls silent there/);
    await changing(page, () => keys(page, 'Enter'));
    await nothingInFront(page);
    await onWork('grid');
    await changing(page, () => keys(page, 'Control+z'));
    await onWork('grid');
    await keys(page, 'Alt+1');
    await atStage(page, 'gather');
    await onWork('listbox');
    await keys(page, 'Alt+3');
    await atStage(page, 'weave');
    await onWork('MAIN');
    await pressButton(page, 'undo').catch(() => {});
    await onWork('MAIN');
  });
});
