import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Browser, type ElementHandle, type Page } from 'puppeteer-core';

const FLAGS = [
  '--headless',
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** Debian's Chromium, with a profile of its own. */
export function launch(): Promise<Browser> {
  return puppeteer.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    headless: false,
    args: FLAGS,
    userDataDir: mkdtempSync(join(tmpdir(), 'verse-loom-')),
    defaultViewport: { width: 1280, height: 800 },
  });
}

/** Where the application under test answers. */
export const HOME = process.env.VERSE_LOOM_URL ?? 'http://localhost:3000';

export const DEMO = '/song/demo-saltmarsh';

/** Opens a page and notes every error it reports. */
export async function openPage(
  browser: Browser,
  path = '/',
  before?: (page: Page) => Promise<unknown>,
): Promise<{ page: Page; errors: string[] }> {
  const page = await browser.newPage();
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(String(error)));
  page.on('console', (message) => {
    if (message.type() === 'error') errors.push(message.text());
  });
  await before?.(page);
  await page.goto(HOME + path, { waitUntil: 'load' });
  return { page, errors };
}

/** Opens a stage of a song and waits until it is drawn. */
export async function goTo(page: Page, path: string): Promise<void> {
  await page.goto(HOME + path, { waitUntil: 'load' });
  await page.waitForSelector('[data-saving]', { timeout: 30_000 });
}

/** Starts a song of one's own and opens it in Shape. @returns its path */
export async function newSong(page: Page): Promise<string> {
  await page.goto(HOME, { waitUntil: 'load' });
  await pressButton(page, 'new song');
  await page.waitForSelector('[role=grid] [role=gridcell]');
  return new URL(page.url()).pathname.replace(/\/shape$/, '');
}

export const pause = (ms: number) => new Promise((later) => setTimeout(later, ms));

/** How long a busy machine may take to show what was asked for, in ms. */
const PATIENCE = 30_000;

/** Waits until what was done last is on the screen. */
export async function drawn(page: Page): Promise<void> {
  await page.evaluate(
    () => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))),
  );
  await pause(20);
}

/** The button, link, option or item with this name (its label, or its text). */
export async function named(page: Page, name: string): Promise<ElementHandle<Element>> {
  const found = await page.waitForSelector(`aria/${name}`, { timeout: PATIENCE });
  if (!found) throw new Error(`Nothing is called “${name}”`);
  return found;
}

export async function pressButton(page: Page, name: string): Promise<void> {
  const button = await page.waitForSelector(`aria/${name}[role="button"]`, { timeout: PATIENCE });
  await button!.click();
}

/** Waits until no dialog or menu lies over the page, and nothing is hidden behind one. */
export async function nothingInFront(page: Page): Promise<void> {
  await page.waitForFunction(
    () => !document.querySelector('.MuiModal-root, body > [aria-hidden=true]:not(script, style)'),
    { timeout: PATIENCE },
  );
}

/** Waits until a text is somewhere on the page. */
export async function seesText(page: Page, text: string | RegExp): Promise<string> {
  const { source, flags } = typeof text === 'string' ? { source: escape(text), flags: '' } : text;
  const handle = await page.waitForFunction(
    (s, f) => new RegExp(s, f).exec(document.body.innerText)?.[0],
    { timeout: PATIENCE },
    source,
    flags,
  );
  return (await handle.jsonValue()) as string;
}

const escape = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** Waits until everything on screen is in storage. */
export async function saved(page: Page): Promise<void> {
  await pause(50);
  await page.waitForSelector('[data-saving=saved]', { timeout: 5000 });
}

export interface Point {
  x: number;
  y: number;
}

/** The middle of a step of the grid, at the height of a velocity. */
export async function stepPoint(
  page: Page,
  piece: string,
  at: number,
  velocity = 100,
): Promise<Point> {
  const cell = await page.waitForSelector(`#cell-${piece}-${at}`);
  const box = (await cell!.boundingBox())!;
  // The stem's room in a row: 11 px are kept above the loudest hit and 3 px below the softest.
  const y = box.y + box.height - 3 - (velocity / 127) * (box.height - 14);
  return { x: box.x + box.width * 0.4, y };
}

export async function press(page: Page, point: Point): Promise<void> {
  await page.mouse.click(point.x, point.y);
}

/** Drags over some points, with a little way between them. */
export async function drag(page: Page, points: Point[], button: 'left' | 'right' = 'left') {
  const [first, ...rest] = points;
  await page.mouse.move(first.x, first.y);
  await page.mouse.down({ button });
  for (const { x, y } of rest) await page.mouse.move(x, y, { steps: 6 });
  await page.mouse.up({ button });
}

/** What the grid says of a row: the labels of the steps that have a hit. */
export function hitsOf(page: Page, piece: string): Promise<string[]> {
  return page.$$eval(`[id^="cell-${piece}-"]`, (cells) =>
    cells
      .map((cell) => cell.getAttribute('aria-label')!)
      .filter((label) => !label.endsWith('empty')),
  );
}

export async function velocities(page: Page, piece: string): Promise<number[]> {
  return (await hitsOf(page, piece)).map((label) => Number(/velocity (\d+)/.exec(label)![1]));
}

/** Presses keys one after another; `Control+z` holds the first ones. */
export async function keys(page: Page, ...combinations: string[]): Promise<void> {
  for (const combination of combinations) {
    const parts = combination.split('+') as Parameters<Page['keyboard']['press']>[0][];
    const last = parts.pop()!;
    for (const held of parts) await page.keyboard.down(held);
    await page.keyboard.press(last);
    for (const held of parts.reverse()) await page.keyboard.up(held);
    await pause(20);
  }
}

/** Opens a menu of Shape by its key and runs the line with a letter. */
export async function chooseFromMenu(page: Page, group: string, letter: string): Promise<void> {
  await keys(page, group);
  await page.waitForSelector('[role=menu]', { timeout: 3000 });
  await keys(page, letter);
  await page.waitForSelector('[role=menu]', { hidden: true, timeout: 3000 });
  await pause(80);
}

/** Drags over a stretch of the song ribbon, as shares of its width: whole bars of it are looped. */
export async function loopOnRibbon(page: Page, from: number, to: number): Promise<void> {
  const map = await page.waitForSelector('[aria-label="the whole song as cloth"]');
  const { x, y, width } = (await map!.boundingBox())!;
  await drag(page, [
    { x: x + width * from, y: y + 20 },
    { x: x + width * to, y: y + 20 },
  ]);
}

/** Lets downloads go to a folder of their own. */
export async function downloads(page: Page): Promise<{ next: () => Promise<Buffer> }> {
  const folder = mkdtempSync(join(tmpdir(), 'verse-loom-out-'));
  const session = await page.createCDPSession();
  await session.send('Browser.setDownloadBehavior', {
    behavior: 'allow',
    downloadPath: folder,
  });
  return {
    async next() {
      for (let tries = 0; tries < 100; tries++) {
        const file = readdirSync(folder).find((f) => !f.endsWith('.crdownload'));
        if (file) {
          const bytes = readFileSync(join(folder, file));
          rmSync(join(folder, file));
          return bytes;
        }
        await pause(50);
      }
      throw new Error('Nothing was saved');
    },
  };
}

/** Gives the page a file as if it had been chosen with the file field. */
export async function chooseFile(page: Page, name: string, bytes: Uint8Array): Promise<void> {
  await page.evaluate(
    (fileName, base64) => {
      const data = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      const transfer = new DataTransfer();
      transfer.items.add(new File([data], fileName));
      const field = document.querySelector<HTMLInputElement>('input[type=file]')!;
      field.files = transfer.files;
      field.dispatchEvent(new Event('change', { bubbles: true }));
    },
    name,
    Buffer.from(bytes).toString('base64'),
  );
}

/** Drops a file on the middle of the page. */
export async function dropFile(page: Page, name: string, bytes: Uint8Array): Promise<void> {
  await page.evaluate(
    (fileName, base64) => {
      const data = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      const dataTransfer = new DataTransfer();
      dataTransfer.items.add(new File([data], fileName));
      const target = document.elementFromPoint(600, 400)!;
      for (const type of ['dragenter', 'dragover', 'drop']) {
        target.dispatchEvent(
          new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer }),
        );
      }
    },
    name,
    Buffer.from(bytes).toString('base64'),
  );
}

/**
 * Records what the page sends to its loudspeakers: every node that is connected to the destination
 * is tapped. Call before the page loads.
 */
export function recordOutput(page: Page): Promise<unknown> {
  return page.evaluateOnNewDocument(() => {
    const heard: Float32Array[] = [];
    Object.assign(window, { heard });
    const connect = AudioNode.prototype.connect as (...args: unknown[]) => unknown;
    AudioNode.prototype.connect = function (this: AudioNode, ...args: unknown[]) {
      const { context } = this;
      if (args[0] === context.destination && 'createScriptProcessor' in context) {
        const tap = context.createScriptProcessor(1024, 2, 1);
        tap.onaudioprocess = (event) => {
          heard.push(event.inputBuffer.getChannelData(0).slice());
        };
        connect.call(this, tap);
        connect.call(tap, context.destination);
      }
      return connect.apply(this, args);
    } as typeof AudioNode.prototype.connect;
  });
}

/** The loudest sample of each 1024 frames that were heard so far, and forgets them. */
export function heardPeaks(page: Page): Promise<number[]> {
  return page.evaluate(() => {
    const { heard } = window as unknown as { heard: Float32Array[] };
    return heard.splice(0).map((block) => block.reduce((top, x) => Math.max(top, Math.abs(x)), 0));
  });
}
