/** @about shell look */
import axe from 'axe-core';
import type { Page } from 'puppeteer-core';
import {
  atStage,
  changing,
  DEMO,
  eventually,
  goTo,
  HOME,
  keys,
  listOfSongs,
  named,
  nothingInFront,
  pressButton,
  seesText,
  freshPages,
} from './browser';

const bench = freshPages();
let page: Page;
beforeEach(async () => {
  page = bench.page;
  await listOfSongs(page);
});

const STAGES = ['gather', 'shape', 'weave', 'balance', 'deliver'];

/** What axe finds that is serious or worse, with the element it is about. */
async function serious(): Promise<string[]> {
  await page.evaluate(axe.source);
  const result = await page.evaluate(() =>
    (window as unknown as { axe: typeof axe }).axe.run(document, {
      resultTypes: ['violations'],
    }),
  );
  return result.violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .flatMap(({ id, nodes }) => nodes.map((node) => `${id}: ${node.html.slice(0, 160)}`));
}

async function scheme(mode: 'light' | 'dark'): Promise<void> {
  await page.emulateMediaFeatures([{ name: 'prefers-color-scheme', value: mode }]);
}

describe.each(['light', 'dark'] as const)('in the %s scheme', (mode) => {
  test('axe finds nothing serious on any view', async () => {
    await scheme(mode);
    expect(await serious()).toEqual([]);
    for (const stage of STAGES) {
      await goTo(page, `${DEMO}/${stage}`);
      expect([stage, await serious()]).toEqual([stage, []]);
    }
  });
});

test.each([
  [1024, 768],
  [1280, 800],
  [1920, 1080],
])('at %i by %i no stage scrolls the page or sticks out of it', async (width, height) => {
  await page.setViewport({ width, height });
  for (const stage of STAGES) {
    await goTo(page, `${DEMO}/${stage}`);
    const sizes = () =>
      page.evaluate(() => {
        const { scrollWidth, scrollHeight, clientWidth, clientHeight } = document.documentElement;
        const out = [...document.querySelectorAll('button, a, input, canvas')]
          .filter((element) => !element.closest('[style*="overflow"], ul, .MuiPopover-root'))
          .map((element) => element.getBoundingClientRect())
          .filter((box) => box.width > 0 && (box.right > innerWidth + 1 || box.left < -1));
        return [scrollWidth - clientWidth, scrollHeight - clientHeight, out.length];
      });
    await eventually(sizes, (over) => expect([stage, over]).toEqual([stage, [0, 0, 0]]));
  }
});

describe('finding one’s way', () => {
  test('the palette finds a command by some of its words and runs it', async () => {
    await goTo(page, `${DEMO}/balance`);
    await keys(page, 'Control+k');
    await page.keyboard.type('go shape');
    await keys(page, 'Enter');
    await atStage(page, 'shape');
    await nothingInFront(page);
    await keys(page, 'Control+k');
    await page.keyboard.type('gull');
    await seesText(page, 'open “Fill, gull drop” in Shape');
    await keys(page, 'Enter');
    await page.waitForSelector('[role=grid][aria-label^="Fill, gull drop"]');
    await nothingInFront(page);
    await keys(page, 'Control+k');
    await page.keyboard.type('zzz');
    await seesText(page, 'No command has these words');
    await keys(page, 'Escape');
    await nothingInFront(page);
  });

  test('the keys are listed, and keys do nothing behind the list', async () => {
    await goTo(page, `${DEMO}/shape`);
    await keys(page, 'Shift+?');
    await seesText(page, 'Keys and strokes');
    await seesText(page, 'place or remove a hit at the cursor');
    await keys(page, 'Space');
    expect(await page.$('[aria-label=stop]')).toBeNull();
    await keys(page, 'Escape');
    await nothingInFront(page);
  });

  test('the scheme is picked and stays after a reload', async () => {
    await scheme('light');
    await goTo(page, `${DEMO}/shape`);
    await pressButton(page, 'light or dark');
    await (await named(page, 'indigo (dark)')).click();
    const is = (scheme: string) => page.waitForSelector(`html[data-scheme=${scheme}]`);
    await is('dark');
    await page.reload();
    await is('dark');
    await pressButton(page, 'light or dark');
    await (await named(page, 'as the system has it')).click();
    await is('light');
  });

  test('tempo is changed in the header and undone', async () => {
    await goTo(page, `${DEMO}/shape`);
    await (await named(page, 'tempo: 104 bpm at first. Press to change it.')).click();
    const field = await named(page, 'tempo of the song (bpm)');
    await field.click();
    await changing(page, () => keys(page, 'Control+a', '9', '0', 'Enter'));
    await keys(page, 'Escape');
    await seesText(page, '90 bpm');
    await nothingInFront(page);
    await page.focus('[role=grid]');
    await changing(page, () => keys(page, 'Control+z'));
    await seesText(page, '104 bpm');
  });

  test('fonts are shipped: nothing is fetched from elsewhere', async () => {
    const hosts = new Set<string>();
    page.on('request', (request) => hosts.add(new URL(request.url()).host));
    await page.reload();
    await listOfSongs(page);
    const fonts = () =>
      page.evaluate(() =>
        [...document.fonts].filter((f) => f.status === 'loaded').map((f) => f.family),
      );
    await eventually(fonts, (families) => expect(families.join()).toContain('Archivo'));
    expect([...hosts]).toEqual([new URL(HOME).host]);
  });

  test('no script runs that did not come with the page', async () => {
    const ran = await page.evaluate(async () => {
      for (const make of [
        () => Object.assign(document.createElement('script'), { text: 'window.ran = 1' }),
        () => Object.assign(document.createElement('img'), { src: 'data:,' }),
      ]) {
        const element = make();
        element.setAttribute('onerror', 'window.ran = 2');
        const failed = new Promise((done) => element.addEventListener('error', done));
        document.body.append(element);
        if (element instanceof HTMLImageElement) await failed;
      }
      try {
        new Function('window.ran = 3')();
      } catch {
        // That is what is wanted.
      }
      return 'ran' in window;
    });
    expect(ran).toBe(false);
    expect(bench.errors.splice(0).join()).toMatch(/Content Security Policy/);
  });

  test.each(['%', '%ff', 'song/%/shape', 'song/%E0%A4%A/shape', 'api/library/%', '%252e%252e/%25'])(
    'nothing is at /%s, and the server says so',
    async (path) => {
      expect((await fetch(`${HOME}/${path}`)).status).toBe(404);
    },
  );

  test('an address that leads nowhere says so', async () => {
    await page.goto(`${HOME}/nowhere`);
    await seesText(page, 'Nothing is woven here');
    bench.errors.length = 0;
  });
});
