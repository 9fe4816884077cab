/** @about shell storage */
import type { Page } from 'puppeteer-core';
import type { Song } from '../src/core';
import {
  atStage,
  changing,
  DEMO,
  eventually,
  goTo,
  hitsOf,
  HOME,
  keys,
  listOfSongs,
  newSong,
  openPage,
  press,
  pressButton,
  saved,
  seesText,
  songNames,
  stepPoint,
  freshPages,
} from './browser';

const bench = freshPages();
let page: Page;
beforeEach(async () => {
  page = bench.page;
  await listOfSongs(page);
});

const listed = () => songNames(page);

/** A song of one's own, called Kelp, and the list with it. */
async function kelp(): Promise<void> {
  await newSong(page);
  await press(page, await stepPoint(page, 'kick', 0));
  await saved(page);
  await page.goto(HOME);
  await eventually(listed, (names) => expect(names[0]).toBe('New song'));
  await page.click('[aria-label^="name of the song: New song"]');
  await page.keyboard.type('Kelp');
  await keys(page, 'Enter');
  await eventually(listed, (names) => expect(names).toContain('Kelp'));
}

/** Writes straight into the stored body of a song, as another version would have. */
async function spoil(id: string, change: (song: Song) => void): Promise<void> {
  const song = await page.evaluate(
    (key) =>
      new Promise<Song>((done, fail) => {
        const opening = indexedDB.open('verse-loom');
        opening.onerror = () => fail(opening.error);
        opening.onsuccess = () => {
          const store = opening.result.transaction('bodies').objectStore('bodies');
          store.get(key).onsuccess = (event) => {
            opening.result.close();
            done((event.target as IDBRequest<{ song: Song }>).result.song);
          };
        };
      }),
    id,
  );
  change(song);
  await page.evaluate(
    (body) =>
      new Promise<void>((done, fail) => {
        const opening = indexedDB.open('verse-loom');
        opening.onerror = () => fail(opening.error);
        opening.onsuccess = () => {
          const writing = opening.result.transaction('bodies', 'readwrite');
          writing.objectStore('bodies').put(body);
          writing.oncomplete = () => {
            opening.result.close();
            done();
          };
        };
      }),
    { id, song } as never,
  );
}

describe('the list of songs', () => {
  test('a first visit has the demo before any script has run, and it can be opened', async () => {
    const other = await bench.browser.createBrowserContext();
    const visit = await other.newPage();
    await visit.setJavaScriptEnabled(false);
    await visit.goto(HOME);
    const rows = await visit.$$eval('[aria-label=songs] > li', (all) =>
      all.map((row) => [
        row.textContent,
        row.querySelectorAll('[role=img] rect').length,
        row.querySelector('a')?.getAttribute('href'),
      ]),
    );
    expect(rows.map(([text]) => text)).toEqual([
      expect.stringMatching(/^Saltmarsh Signal/),
      expect.stringMatching(/^Slack Water/),
    ]);
    for (const [, cells, href] of rows) {
      expect(cells).toBeGreaterThan(4);
      expect(href).toMatch(/^\/song\/demo-.*\/weave$/);
    }
    await other.close();
  });

  test('a browser without songs gets the demo', async () => {
    expect(await listed()).toEqual(['Saltmarsh Signal', 'Slack Water, Second Boat']);
  });

  test('a song is renamed, duplicated, deleted, and brought back by undo', async () => {
    await kelp();
    await pressButton(page, 'duplicate Kelp');
    await eventually(listed, (names) => expect(names).toContain('Kelp, copy'));
    await pressButton(page, 'delete Kelp');
    await seesText(page, '“Kelp” was deleted.');
    await eventually(listed, (names) => expect(names).not.toContain('Kelp'));
    await pressButton(page, 'undo');
    await eventually(listed, (names) =>
      expect(names).toEqual(expect.arrayContaining(['Kelp', 'Kelp, copy'])),
    );
  });

  test('?demo=fresh restores the demo and leaves one’s own songs alone', async () => {
    await kelp();
    await goTo(page, `${DEMO}/shape`);
    const before = await hitsOf(page, 'kick');
    await page.focus('[role=grid]');
    await changing(page, () => keys(page, 'Control+a', 'Delete'));
    expect(await hitsOf(page, 'kick')).toEqual([]);
    await saved(page);
    await page.goto(`${HOME}/?demo=fresh`);
    await seesText(page, 'as they were shipped');
    await eventually(listed, (names) => expect(names).toContain('Kelp'));
    await eventually(
      async () => new URL(page.url()).search,
      (search) => expect(search).toBe(''),
    );
    await goTo(page, `${DEMO}/shape`);
    expect(await hitsOf(page, 'kick')).toEqual(before);
  });
});

describe('what is stored', () => {
  test('by a newer version is not opened and not lost', async () => {
    await spoil('demo-slack', (song) => Object.assign(song, { format: 5 }));
    await page.goto(`${HOME}/song/demo-slack/shape`);
    await seesText(page, 'saved by a newer Verse Loom (form 5');
    await seesText(page, 'save the stored copy');
  });

  test('by an early trial is said in words; what is sound of a damaged song is opened', async () => {
    await spoil('demo-slack', (song) => Object.assign(song, { format: 0 }));
    await page.goto(`${HOME}/song/demo-slack/shape`);
    await seesText(page, 'saved by an early trial');
    await spoil('demo-slack', (song) => {
      const struck = song.patterns[0].strands.find(({ hits }) => hits.length > 0)!;
      Object.assign(song, { format: 4 });
      Object.assign(struck.hits[0], { velocity: 900 });
    });
    await page.goto(`${HOME}/song/demo-slack/shape`);
    await seesText(page, 'Parts of this song are damaged');
    await seesText(page, 'A velocity must be a whole number from 1 to 127');
    await pressButton(page, 'go on');
    await atStage(page, 'shape');
    expect((await page.$$('[role=gridcell]:not([aria-label$=empty])')).length).toBeGreaterThan(8);
    await page.goto(`${HOME}/song/nothing/shape`);
    await seesText(page, 'This song is not in this browser');
  });

  test('a second tab on the same song is told so and does not overwrite', async () => {
    await goTo(page, `${DEMO}/shape`);
    const second = await openPage(page.browserContext());
    await goTo(second.page, `${DEMO}/shape`);
    await seesText(second.page, 'This song is open in another tab');
    const before = await hitsOf(second.page, 'crash');
    await press(second.page, await stepPoint(second.page, 'crash', 960));
    await seesText(second.page, 'Change it there, or close that tab first');
    expect(await hitsOf(second.page, 'crash')).toEqual(before);
    await page.bringToFront();
    await changing(page, async () => press(page, await stepPoint(page, 'crash', 1920)));
    await saved(page);
    await page.close();
    await second.page.bringToFront();
    await seesText(second.page, 'it can be changed here now');
    // The reason why it could not be changed is no longer true, and no longer shown.
    await second.page.waitForFunction(
      () => !document.body.innerText.includes('Change it there, or close that tab first'),
    );
    expect((await hitsOf(second.page, 'crash')).join()).toContain('beat 3');
    expect(second.errors).toEqual([]);
  });
});

describe('storage that fails', () => {
  test('a full disk is said, what is on screen stays, and saving is tried again', async () => {
    const full = await openPage(page.browserContext(), '/', (fresh) =>
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
    await listOfSongs(full.page);
    await newSong(full.page);
    await full.page.evaluate(() => Object.assign(window, { full: true }));
    await press(full.page, await stepPoint(full.page, 'kick', 0));
    await seesText(full.page, 'Not saved: this browser’s storage is full');
    expect(await hitsOf(full.page, 'kick')).toHaveLength(1);
    await full.page.evaluate(() => Object.assign(window, { full: false }));
    await press(full.page, await stepPoint(full.page, 'snare', 960));
    await saved(full.page);
    expect(full.errors).toEqual([]);
  });

  test('a browser that lets nothing be stored still makes a song, and says what is at stake', async () => {
    const blocked = await openPage(page.browserContext(), '/', (fresh) =>
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
    expect(blocked.errors).toEqual([]);
  });
});
