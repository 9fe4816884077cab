import axe from 'axe-core';
import type { Browser, Page } from 'puppeteer-core';
import {
  DEMO,
  goTo,
  HOME,
  keys,
  launch,
  named,
  nothingInFront,
  openPage,
  pause,
  pressButton,
  seesText,
} from './browser';

let browser: Browser;
let page: Page;
let errors: string[];

beforeAll(async () => {
  browser = await launch();
  ({ page, errors } = await openPage(browser));
  await page.waitForSelector('li');
});
afterAll(async () => {
  await browser.close();
  expect(errors).toEqual([]);
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
    await page.goto(HOME);
    await page.waitForSelector('li canvas');
    expect(await serious()).toEqual([]);
    for (const stage of STAGES) {
      await goTo(page, `${DEMO}/${stage}`);
      await pause(400);
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
    await pause(300);
    const over = await page.evaluate(() => {
      const { scrollWidth, scrollHeight, clientWidth, clientHeight } = document.documentElement;
      const out = [...document.querySelectorAll('button, a, input, canvas')]
        .filter((element) => !element.closest('[style*="overflow"], ul, .MuiPopover-root'))
        .map((element) => element.getBoundingClientRect())
        .filter((box) => box.width > 0 && (box.right > innerWidth + 1 || box.left < -1));
      return [scrollWidth - clientWidth, scrollHeight - clientHeight, out.length];
    });
    expect([stage, over]).toEqual([stage, [0, 0, 0]]);
  }
  await page.setViewport({ width: 1280, height: 800 });
});

describe('finding one’s way', () => {
  test('stages that are not built say in one sentence what will be there', async () => {
    await goTo(page, `${DEMO}/balance`);
    await seesText(page, 'Balance is not built yet');
    expect(await page.$$('main button')).toHaveLength(0);
  });

  test('the palette finds a command by some of its words and runs it', async () => {
    await keys(page, 'Control+k');
    await page.keyboard.type('go shape');
    await keys(page, 'Enter');
    await page.waitForSelector('[role=grid]');
    await keys(page, 'Control+k');
    await page.keyboard.type('gull');
    await seesText(page, 'open “Fill, gull drop” in Shape');
    await keys(page, 'Enter');
    await page.waitForSelector('[role=grid][aria-label^="Fill, gull drop"]');
    await keys(page, 'Control+k');
    await page.keyboard.type('zzz');
    await seesText(page, 'No command has these words');
    await keys(page, 'Escape');
    await nothingInFront(page);
  });

  test('the keys are listed, and keys do nothing behind the list', async () => {
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
    const shown = () => page.$eval('html', (html) => html.getAttribute('data-scheme'));
    expect(await shown()).toBe('dark');
    await page.reload();
    expect(await shown()).toBe('dark');
    await pressButton(page, 'light or dark');
    await (await named(page, 'as the system has it')).click();
    expect(await shown()).toBe('light');
  });

  test('tempo is changed in the header and undone', async () => {
    await goTo(page, `${DEMO}/shape`);
    await (await named(page, '104 bpm: press to change the tempo')).click();
    const field = await named(page, 'tempo (bpm)');
    await field.click();
    await keys(page, 'Control+a', '9', '0', 'Enter', 'Escape');
    await seesText(page, '90 bpm');
    await page.click('[role=grid]', { offset: { x: 400, y: 2 } }).catch(() => {});
    await keys(page, 'Control+z', 'Control+z');
    await seesText(page, '104 bpm');
  });

  test('fonts are shipped: nothing is fetched from elsewhere', async () => {
    const hosts = new Set<string>();
    page.on('request', (request) => hosts.add(new URL(request.url()).host));
    await page.reload();
    await pause(800);
    const fonts = await page.evaluate(() =>
      [...document.fonts].filter((f) => f.status === 'loaded').map((f) => f.family),
    );
    expect(fonts.join()).toContain('Archivo');
    expect([...hosts]).toEqual([new URL(HOME).host]);
  });

  test('an address that leads nowhere says so', async () => {
    await page.goto(`${HOME}/nowhere`);
    await seesText(page, 'Nothing is woven here');
    errors.splice(0);
  });
});
