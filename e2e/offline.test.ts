/** @about offline */
import { createServer, request, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Browser, Page } from 'puppeteer-core';
import {
  atStage,
  beenHere,
  eventually,
  hitsOf,
  HOME,
  launch,
  listOfSongs,
  newSong,
  PATIENCE,
  press,
  saved,
  seesText,
  stepPoint,
} from './browser';

/** The server under test, behind one that can be stopped and can bring another version. */
let front: Server;
let home: string;
let version: string;
let browser: Browser;
let page: Page;

beforeEach(async () => {
  version = '';
  front = createServer((asked, answer) => {
    const { hostname, port } = new URL(HOME);
    const { url: path, method } = asked;
    const { 'if-none-match': _, 'if-modified-since': __, ...rest } = asked.headers;
    const headers = { ...rest, 'accept-encoding': 'identity' };
    const inner = request({ hostname, port, path, method, headers }, (given) => {
      const named = version !== '' && path === '/offline.js';
      if (named) delete given.headers['content-length'];
      answer.writeHead(given.statusCode!, given.headers);
      given.pipe(answer, { end: !named });
      // A worker that differs by a byte is a new one.
      if (named) given.on('end', () => answer.end(`// ${version}`));
    });
    asked.pipe(inner);
  });
  await new Promise<void>((listening) => front.listen(0, listening));
  home = `http://localhost:${(front.address() as AddressInfo).port}`;
  browser = await launch();
  page = await browser.newPage();
  await beenHere(page);
  await page.goto(home);
  await listOfSongs(page);
  await page.waitForFunction(
    async () =>
      (await navigator.serviceWorker.ready) && navigator.serviceWorker.controller !== null,
    { timeout: PATIENCE },
  );
});
afterEach(async () => {
  await browser.close();
  stop();
});

function stop(): void {
  front.close();
  front.closeAllConnections();
}

test('after the first visit everything works without a server, the shipped library too', async () => {
  stop();
  await page.reload();
  await listOfSongs(page);
  const path = await newSong(page);
  await press(page, await stepPoint(page, 'snare', 240));
  await saved(page);

  // Straight to an address of it, as from a bookmark.
  await page.goto(`${home}${path}/shape`);
  await atStage(page, 'shape');
  expect(await hitsOf(page, 'snare')).toHaveLength(1);

  await page.goto(`${home}${path}/gather`);
  await atStage(page, 'gather');
  const rows = await page.$$('[role=option]');
  await rows[3].click();
  await page.waitForSelector('[aria-label="strands of the groove"] canvas', { timeout: PATIENCE });
});

test('a new version waits, says so, and takes over when it is asked to', async () => {
  const path = await newSong(page);
  await press(page, await stepPoint(page, 'snare', 240));
  await page.evaluate(() => Object.assign(window, { before: true }));
  version = '2';
  await page.evaluate(async () => (await navigator.serviceWorker.getRegistration())!.update());
  await seesText(page, 'A new version of Verse Loom is ready');
  expect(await page.evaluate(() => 'before' in window)).toBe(true);
  const use = await page.waitForSelector('aria/use it now[role="button"]', { timeout: PATIENCE });
  // The page goes as soon as it is pressed.
  await Promise.all([page.waitForNavigation({ timeout: PATIENCE }), use!.click()]);
  await eventually(
    () => page.evaluate(() => 'before' in window),
    (old) => expect(old).toBe(false),
  );
  await atStage(page, 'shape');
  expect(new URL(page.url()).pathname).toBe(`${path}/shape`);
  expect(await hitsOf(page, 'snare')).toHaveLength(1);
  await eventually(
    () =>
      page.evaluate(
        async () => (await navigator.serviceWorker.getRegistration())!.waiting === null,
      ),
    (none) => expect(none).toBe(true),
  );
});

test('can be installed: name, start and icons are there', async () => {
  const manifest = (await (await fetch(`${home}/manifest.webmanifest`)).json()) as {
    start_url: string;
    icons: { src: string }[];
  };
  expect(manifest.start_url).toBe('/');
  for (const { src } of manifest.icons) expect((await fetch(home + src)).status).toBe(200);
  const client = await page.createCDPSession();
  const { installabilityErrors } = await client.send('Page.getInstallabilityErrors');
  // A private window, as a test has one, is the only hindrance there may be.
  expect(installabilityErrors.filter(({ errorId }) => errorId !== 'in-incognito')).toEqual([]);
});
