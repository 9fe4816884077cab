import type { Browser, Page } from 'puppeteer-core';
import {
  DEMO,
  goTo,
  hitsOf,
  HOME,
  keys,
  launch,
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

beforeAll(async () => {
  browser = await launch();
  ({ page } = await openPage(browser));
  await page.waitForSelector('li');
});
afterAll(() => browser.close());

const listed = () =>
  page.$$eval('[aria-label=songs] > li', (rows) =>
    rows.map((row) => (row as HTMLElement).innerText.split('\n')[0]),
  );

async function list(): Promise<string[]> {
  await page.goto(HOME);
  await page.waitForSelector('[aria-label=songs] > li');
  return listed();
}

/** Writes straight into the stored body of a song, as another version would have. */
function spoil(id: string, change: string): Promise<void> {
  return page.evaluate(
    (key, code) =>
      new Promise<void>((done, fail) => {
        const opening = indexedDB.open('verse-loom');
        opening.onerror = () => fail(opening.error);
        opening.onsuccess = () => {
          const store = opening.result.transaction('bodies', 'readwrite').objectStore('bodies');
          const got = store.get(key);
          got.onsuccess = () => {
            const body = got.result;
            new Function('song', code)(body.song);
            store.put(body).onsuccess = () => {
              opening.result.close();
              done();
            };
          };
        };
      }),
    id,
    change,
  );
}

describe('the list of songs', () => {
  test('a browser without songs gets the demo', async () => {
    expect(await listed()).toEqual(['Saltmarsh Signal', 'Slack Water, Second Boat']);
  });

  test('a song is renamed, duplicated, deleted, and brought back by undo', async () => {
    await newSong(page);
    await press(page, await stepPoint(page, 'kick', 0));
    await saved(page);
    expect((await list())[0]).toBe('New song');
    await page.click('[aria-label^="name of the song: New song"]');
    await page.keyboard.type('Kelp');
    await keys(page, 'Enter');
    await seesText(page, 'Kelp');
    await pressButton(page, 'duplicate Kelp');
    await seesText(page, 'Kelp, copy');
    await pressButton(page, 'delete Kelp');
    await seesText(page, '“Kelp” was deleted.');
    expect(await listed()).not.toContain('Kelp');
    await pressButton(page, 'undo');
    await pause(300);
    expect(await listed()).toEqual(expect.arrayContaining(['Kelp', 'Kelp, copy']));
  });

  test('?demo=fresh restores the demo and leaves one’s own songs alone', async () => {
    await goTo(page, `${DEMO}/shape`);
    await page.waitForSelector('[role=gridcell]');
    const before = await hitsOf(page, 'kick');
    await page.focus('[role=grid]');
    await keys(page, 'Control+a', 'Delete');
    expect(await hitsOf(page, 'kick')).toEqual([]);
    await saved(page);
    await page.goto(`${HOME}/?demo=fresh`);
    await seesText(page, 'as they were shipped');
    expect(await listed()).toEqual(expect.arrayContaining(['Kelp', 'Kelp, copy']));
    expect(new URL(page.url()).search).toBe('');
    await goTo(page, `${DEMO}/shape`);
    await page.waitForSelector('[role=gridcell]');
    expect(await hitsOf(page, 'kick')).toEqual(before);
  });
});

describe('what is stored', () => {
  test('by a newer version is not opened and not lost', async () => {
    await spoil('demo-slack', 'song.format = 4');
    await page.goto(`${HOME}/song/demo-slack/shape`);
    await seesText(page, 'saved by a newer Verse Loom (form 4');
    await seesText(page, 'save the stored copy');
  });

  test('by an older version, or damaged, is said in words', async () => {
    await spoil('demo-slack', 'song.format = 0');
    await page.goto(`${HOME}/song/demo-slack/shape`);
    await seesText(page, 'saved by an early trial');
    await spoil(
      'demo-slack',
      'song.format = 1; song.patterns[0].strands.find((s) => s.hits.length).hits[0].velocity = 900',
    );
    await page.goto(`${HOME}/song/demo-slack/shape`);
    await seesText(page, 'A velocity must be a whole number from 1 to 127');
    await page.goto(`${HOME}/song/nothing/shape`);
    await seesText(page, 'This song is not in this browser');
  });

  test('a second tab on the same song is told so and does not overwrite', async () => {
    await goTo(page, `${DEMO}/shape`);
    await page.waitForSelector('[role=gridcell]');
    const second = await openPage(browser, `${DEMO}/shape`);
    await seesText(second.page, 'This song is open in another tab');
    await second.page.waitForSelector('[role=gridcell]');
    const before = await hitsOf(second.page, 'crash');
    await press(second.page, await stepPoint(second.page, 'crash', 960));
    await seesText(second.page, 'Change it there, or close that tab first');
    expect(await hitsOf(second.page, 'crash')).toEqual(before);
    await page.bringToFront();
    await press(page, await stepPoint(page, 'crash', 1920));
    await saved(page);
    await page.close();
    await second.page.bringToFront();
    await seesText(second.page, 'it can be changed here now');
    expect((await hitsOf(second.page, 'crash')).join()).toContain('beat 3');
    page = second.page;
  });
});

describe('storage that fails', () => {
  test('a full disk is said, what is on screen stays, and saving is tried again', async () => {
    const full = await openPage(browser, '/', (fresh) =>
      fresh.evaluateOnNewDocument(() => {
        const put = IDBObjectStore.prototype.put;
        Object.assign(window, { full: false });
        IDBObjectStore.prototype.put = function (...args: Parameters<typeof put>) {
          if ((window as unknown as { full: boolean }).full) {
            throw new DOMException('no room', 'QuotaExceededError');
          }
          return put.apply(this, args);
        };
      }),
    );
    await newSong(full.page);
    await full.page.evaluate(() => Object.assign(window, { full: true }));
    await press(full.page, await stepPoint(full.page, 'kick', 0));
    await seesText(full.page, 'Not saved: this browser’s storage is full');
    expect(await hitsOf(full.page, 'kick')).toHaveLength(1);
    await full.page.evaluate(() => Object.assign(window, { full: false }));
    await press(full.page, await stepPoint(full.page, 'snare', 960));
    await saved(full.page);
    await full.page.close();
  });

  test('a browser that lets nothing be stored still makes a song, and says what is at stake', async () => {
    const blocked = await openPage(browser, '/', (fresh) =>
      fresh.evaluateOnNewDocument(() => {
        IDBFactory.prototype.open = () => {
          throw new DOMException('blocked', 'SecurityError');
        };
      }),
    );
    await seesText(blocked.page, 'does not let Verse Loom store songs');
    await newSong(blocked.page);
    await press(blocked.page, await stepPoint(blocked.page, 'kick', 0));
    await seesText(blocked.page, 'not saved');
    expect(await hitsOf(blocked.page, 'kick')).toHaveLength(1);
    await blocked.page.close();
  });
});
