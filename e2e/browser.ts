import {
  cpSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, {
  type Browser,
  type BrowserContext,
  type ElementHandle,
  type Page,
} from 'puppeteer-core';
import wavDecoder from 'wav-decoder';

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
export function launch(userDataDir = mkdtempSync(join(tmpdir(), 'verse-loom-'))): Promise<Browser> {
  return puppeteer.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium-headless-shell',
    headless: false,
    args: FLAGS,
    userDataDir,
    defaultViewport: { width: 1280, height: 800 },
  });
}

/** Where the profile lies that `npm run e2e` makes once: see `makeProfile`. */
const STORED = process.env.VERSE_LOOM_PROFILE;

/**
 * A copy of a profile in which Verse Loom was open before and was closed in an orderly way, as nearly all
 * are: the demo is in storage, its files are kept, and its sounds are computed.
 */
export async function usedProfile(): Promise<string> {
  const profile = mkdtempSync(join(tmpdir(), 'verse-loom-used-'));
  if (STORED) cpSync(STORED, profile, { recursive: true });
  else await makeProfile(profile);
  return profile;
}

/** Opens Verse Loom in a new profile, goes through its stages, and closes it in an orderly way. */
export async function makeProfile(folder: string): Promise<void> {
  const browser = await launch(folder);
  const { page } = await openPage(browser);
  await listOfSongs(page);
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  for (const stage of ['gather', 'shape', 'weave', 'balance', 'deliver']) {
    await goTo(page, `${DEMO}/${stage}`);
  }
  await saved(page);
  await eventually(
    () => soundsKept(page),
    (kept) => {
      if (kept < DEMO_SOUNDS) throw new Error(`${kept} sounds are kept of ${DEMO_SOUNDS}`);
    },
  );
  await browser.close();
}

/** The sounds that are kept once the demo was open long enough. */
const DEMO_SOUNDS = 18;

/** How many computed sounds are kept in this browser. */
const soundsKept = (page: Page) =>
  page.evaluate(async () => {
    const names = (await caches.keys()).filter((name) => name.startsWith('sounds '));
    const kept = await Promise.all(names.map(async (name) => (await caches.open(name)).keys()));
    return kept.flat().length;
  });

/**
 * Ends a browser as a crash of the machine would, with all its processes: as long as one of them holds
 * its files, a browser that is started on them takes them for damaged and begins anew.
 */
export async function kill(browser: Browser): Promise<void> {
  const profile = browser.process()!.spawnargs.find((arg) => arg.startsWith('--user-data-dir='))!;
  const processes = () =>
    readdirSync('/proc').filter((id) => /^\d+$/.test(id) && commandOf(id).includes(profile));
  const gone = new Promise((resolve) => browser.once('disconnected', resolve));
  for (const id of processes()) process.kill(Number(id), 'SIGKILL');
  await gone;
  await eventually(
    async () => processes(),
    (left) => {
      if (left.length > 0)
        throw new Error(`Processes ${left.join()} of the browser are still there`);
    },
  );
}

function commandOf(id: string): string {
  try {
    return readFileSync(`/proc/${id}/cmdline`, 'utf8');
  } catch {
    return '';
  }
}

/** Where the application under test answers. */
export const HOME = process.env.VERSE_LOOM_URL ?? 'http://localhost:3000';

export const DEMO = '/song/demo-saltmarsh';

/** Says to the workbench that this browser was here before: it stays at the list of songs. */
export const beenHere = (page: Page) =>
  page
    .browserContext()
    .setCookie({ name: 'been-here', value: 'yes', domain: new URL(HOME).hostname });

/**
 * Opens a page and notes every error it reports. The browser was here before, so that it stays where it is.
 */
export async function openPage(
  browser: Browser | BrowserContext,
  path = '/',
  before?: (page: Page) => Promise<unknown>,
): Promise<{ page: Page; errors: string[] }> {
  const opened = await emptyPage(browser, before);
  await opened.page.goto(HOME + path, { waitUntil: 'load' });
  return opened;
}

async function emptyPage(
  browser: Browser | BrowserContext,
  before?: (page: Page) => Promise<unknown>,
): Promise<{ page: Page; errors: string[] }> {
  const page = await browser.newPage();
  page.setDefaultTimeout(PATIENCE);
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(String(error)));
  page.on('console', (message) => {
    if (message.type() === 'error') errors.push(message.text());
  });
  await beenHere(page);
  await before?.(page);
  return { page, errors };
}

/** How long a busy machine may take to show what was asked for, in ms. */
export const PATIENCE = 180_000;

/** What a test works at: a page with storage of its own, in which nothing was done before. */
export interface Bench {
  browser: Browser;
  page: Page;
  /** What the page reported as an error. A test that provokes some takes them out. */
  errors: string[];
}

/**
 * Gives every test a browser of its own on a copy of the stored profile, with an empty page: a test opens
 * what it is about with `goTo`, `newSong` or `listOfSongs`.
 * @param before done with each page before anything is opened on it
 */
export function freshPages(before?: (page: Page) => Promise<unknown>): Bench {
  const bench = {} as Bench;
  let profile: string;
  beforeEach(async () => {
    profile = await usedProfile();
    bench.browser = await launch(profile);
    Object.assign(bench, await emptyPage(bench.browser, before));
  });
  afterEach(async () => {
    await bench.browser.close();
    rmSync(profile, { recursive: true, force: true });
    expect(bench.errors).toEqual([]);
  });
  return bench;
}

/** Opens the list of songs where nothing is open yet, and waits for it, with the demo in it. */
export async function listOfSongs(page: Page): Promise<void> {
  if (page.url() === 'about:blank') await page.goto(HOME, { waitUntil: 'load' });
  await page.waitForSelector('li canvas', { timeout: PATIENCE });
  await toolsReady(page);
}

/** Waits until keys are listened to: what makes them work is loaded after the first view. */
async function toolsReady(page: Page): Promise<void> {
  await page.waitForSelector('[data-tools]', { timeout: PATIENCE });
}

/** The names of the songs in the list, from top to bottom. */
export function songNames(page: Page): Promise<string[]> {
  return page.$$eval('[aria-label=songs] > li', (rows) =>
    rows.map((row) => (row as HTMLElement).innerText.split('\n')[0]),
  );
}

/** Opens a stage of a song and waits until the song is there and the stage is drawn. */
export async function goTo(page: Page, path: string): Promise<void> {
  await page.goto(HOME + path, { waitUntil: 'load' });
  await atStage(page, path.split('/').at(-1)!);
}

/** What shows that a stage is drawn, with what it has to show. */
const DRAWN: Readonly<Record<string, string>> = {
  gather: '[role=option]',
  shape: '[role=grid] [role=gridcell]',
  weave: '[aria-label=patterns] li, [data-energy]',
  balance: '[data-track]',
};

/** Waits until a stage is drawn. */
export async function atStage(page: Page, stage: string): Promise<void> {
  await page.waitForSelector('[data-saving]', { timeout: PATIENCE }).catch(async (error) => {
    const shown = await page.evaluate(() => document.body.innerText + document.body.innerHTML);
    throw new Error(`${error}\nThe page shows: ${shown.slice(0, 600)}`);
  });
  await toolsReady(page);
  await page.waitForSelector(DRAWN[stage] ?? 'main', { timeout: PATIENCE });
  await drawn(page);
}

/** Starts a song of one's own and opens it in Shape. @returns its path */
export async function newSong(page: Page): Promise<string> {
  if (page.url() === 'about:blank') await listOfSongs(page);
  await pressButton(page, 'new song');
  await atStage(page, 'shape');
  return new URL(page.url()).pathname.replace(/\/shape$/, '');
}

/** Waits until what was done last is on the screen. */
export async function drawn(page: Page): Promise<void> {
  await page.evaluate(
    () => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))),
  );
}

/** Looks again and again until what is seen is as it should be. @returns what was seen */
export async function eventually<T>(
  look: () => Promise<T>,
  check: (seen: T) => void,
  patience = PATIENCE,
): Promise<T> {
  const end = Date.now() + patience;
  for (;;) {
    try {
      const seen = await look();
      check(seen);
      return seen;
    } catch (error) {
      if (Date.now() > end) throw error;
    }
    await new Promise((again) => setTimeout(again, 30));
  }
}

/** How often the open song was changed since it was opened, undo and redo too. */
export const edits = (page: Page) =>
  page.$eval('[data-edits]', (header) => Number(header.getAttribute('data-edits')));

/** Does something that changes the song, and waits until the change is made and drawn. */
export async function changing(page: Page, act: () => Promise<unknown>): Promise<void> {
  const before = await edits(page);
  await act();
  await page.waitForFunction(
    (n) => Number(document.querySelector('[data-edits]')?.getAttribute('data-edits')) > n,
    { timeout: PATIENCE },
    before,
  );
  await drawn(page);
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
  await drawn(page);
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

/** Waits until every change that was made is in storage. */
export async function saved(page: Page): Promise<void> {
  await drawn(page);
  await page.waitForFunction(
    () => {
      const { edits, kept } = document.querySelector<HTMLElement>('[data-edits]')!.dataset;
      return edits === kept && document.querySelector('[data-saving=saved]') !== null;
    },
    { timeout: PATIENCE },
  );
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
  const cell = await page.waitForSelector(`#cell-${piece}-${at}`, { timeout: PATIENCE });
  const box = (await cell!.boundingBox())!;
  // The stem's room in a row: 11 px are kept above the loudest hit and 3 px below the softest.
  const y = box.y + box.height - 3 - (velocity / 127) * (box.height - 14);
  return { x: box.x + box.width * 0.4, y };
}

export async function press(page: Page, point: Point): Promise<void> {
  await page.mouse.click(point.x, point.y);
  await drawn(page);
}

/** Drags over some points, with a little way between them. */
export async function drag(page: Page, points: Point[], button: 'left' | 'right' = 'left') {
  const [first, ...rest] = points;
  await page.mouse.move(first.x, first.y);
  await page.mouse.down({ button });
  for (const { x, y } of rest) await page.mouse.move(x, y, { steps: 6 });
  // It is let go where the page has seen it come to.
  await drawn(page);
  await page.mouse.up({ button });
  await drawn(page);
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
    await drawn(page);
  }
}

/** Opens a menu of Shape by its key and runs the line with a letter. */
export async function chooseFromMenu(page: Page, group: string, letter: string): Promise<void> {
  await keys(page, group);
  await page.waitForSelector('[role=menu] [role=menuitem]', { timeout: PATIENCE });
  await keys(page, letter);
  await page.waitForSelector('[role=menu]', { hidden: true, timeout: PATIENCE });
  await drawn(page);
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
  const { targetInfo } = await session.send('Target.getTargetInfo');
  await session.send('Browser.setDownloadBehavior', {
    behavior: 'allow',
    downloadPath: folder,
    browserContextId: targetInfo.browserContextId,
  });
  return {
    async next() {
      const sizes = () =>
        readdirSync(folder).map((file) => `${statSync(join(folder, file)).size} ${file}`);
      let before: string[] = [];
      // A file is there as soon as it is begun: it is whole when it has something in it and grows no more.
      const [file] = await eventually(
        async () => {
          const [last, now] = [before, sizes()];
          before = now;
          const whole = now.filter((one) => last.includes(one) && !/^0 |crdownload$/.test(one));
          return whole.map((one) => one.replace(/^\d+ /, ''));
        },
        (files) => {
          if (files.length === 0) throw new Error('Nothing was saved');
        },
      );
      const bytes = readFileSync(join(folder, file));
      rmSync(join(folder, file));
      return bytes;
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
export function dropFile(page: Page, name: string, bytes: Uint8Array): Promise<void> {
  return dropPaths(page, [onDisk(name, bytes)]);
}

/** Writes a file where the browser can fetch it. @returns its path */
export function onDisk(name: string, bytes: Uint8Array): string {
  const path = join(mkdtempSync(join(tmpdir(), 'verse-loom-drop-')), name);
  writeFileSync(path, bytes);
  return path;
}

const MIDDLE: Point = { x: 600, y: 400 };

/** Drops files or folders of this machine on the middle of the page, as the system's own file list does. */
export async function dropPaths(page: Page, files: string[]): Promise<void> {
  const carried = await carryFiles(page, files);
  await carried.over(MIDDLE);
  await carried.drop(MIDDLE);
}

/** Files of this machine that are carried over the page with the mouse. */
export async function carryFiles(page: Page, files: string[]) {
  const client = await page.createCDPSession();
  const data = { items: [], files, dragOperationsMask: 1 };
  const send = (type: 'dragEnter' | 'dragOver' | 'drop', { x, y }: Point) =>
    client.send('Input.dispatchDragEvent', { type, x, y, data });
  return {
    async over(point: Point): Promise<void> {
      await send('dragEnter', point);
      await send('dragOver', point);
    },
    async drop(point: Point): Promise<void> {
      await send('drop', point);
      await client.detach();
    },
  };
}

/** A sound file of one side, 16 bits deep. */
export function wavOf(samples: Float32Array, rate = 48_000): Uint8Array {
  const bytes = new Uint8Array(44 + samples.length * 2);
  const view = new DataView(bytes.buffer);
  const text = (at: number, words: string) =>
    [...words].forEach((letter, i) => view.setUint8(at + i, letter.charCodeAt(0)));
  text(0, 'RIFF');
  view.setUint32(4, bytes.length - 8, true);
  text(8, 'WAVEfmt ');
  [16, 1 | (1 << 16), rate, rate * 2, 2 | (16 << 16)].forEach((value, i) =>
    view.setUint32(16 + i * 4, value, true),
  );
  text(36, 'data');
  view.setUint32(40, samples.length * 2, true);
  samples.forEach((x, i) =>
    view.setInt16(44 + i * 2, Math.round(Math.max(-1, Math.min(1, x)) * 32_767), true),
  );
  return bytes;
}

/**
 * Records what the page sends to its loudspeakers, frame by frame, in the audio thread: nothing is
 * lost when the page is busy. Call before the page loads.
 */
export async function recordOutput(page: Page): Promise<unknown> {
  // The recorder is not one of the page's own scripts.
  await page.setBypassCSP(true);
  return page.evaluateOnNewDocument(() => {
    const tap = `registerProcessor('tap', class extends AudioWorkletProcessor {
      constructor() { super(); this.block = new Float32Array(1024); this.at = 0; }
      process([input]) {
        const left = input[0] ?? new Float32Array(128);
        // When something is heard first, by the clock, however busy the page is.
        if (!this.first && left.some((x) => Math.abs(x) > 0.01))
          this.port.postMessage((this.first = Date.now()));
        this.block.set(left, this.at);
        this.at += 128;
        if (this.at === 1024) { this.port.postMessage(this.block.slice()); this.at = 0; }
        return true;
      }
    })`;
    const heard: Float32Array[] = [];
    Object.assign(window, { heard });
    const addModule = AudioWorklet.prototype.addModule;
    AudioWorklet.prototype.addModule = async function (...args) {
      await addModule.apply(this, args);
      const url = URL.createObjectURL(new Blob([tap], { type: 'text/javascript' }));
      await addModule.call(this, url);
    };
    const connect = AudioNode.prototype.connect as (...args: unknown[]) => unknown;
    AudioNode.prototype.connect = function (this: AudioNode, ...args: unknown[]) {
      const { context } = this;
      if (args[0] === context.destination) {
        const recorder = new AudioWorkletNode(context, 'tap', { numberOfOutputs: 1 });
        recorder.port.onmessage = ({ data }: MessageEvent<Float32Array | number>) => {
          if (typeof data === 'number') Object.assign(window, { heardAt: data });
          else heard.push(data);
        };
        connect.call(this, recorder);
        connect.call(recorder, context.destination);
      }
      return connect.apply(this, args);
    } as typeof AudioNode.prototype.connect;
  });
}

/** A stroke in what was heard. */
export interface Onset {
  /** Seconds from where listening began. */
  at: number;
  peak: number;
  /** Of its first 15 ms: half the changes of sign a second. */
  pitch: number;
}

/** Forgets what was heard so far. */
export function listenAnew(page: Page): Promise<void> {
  return page.evaluate(() => {
    (window as unknown as { heard: Float32Array[] }).heard.length = 0;
  });
}

/** Waits until so many seconds were put out since listening began. @returns the strokes in them */
export async function strokesHeard(page: Page, seconds: number): Promise<Onset[]> {
  await page.waitForFunction(
    (blocks) => (window as unknown as { heard: Float32Array[] }).heard.length >= blocks,
    { timeout: PATIENCE },
    Math.ceil((seconds * 48_000) / 1024),
  );
  return page.evaluate((wanted) => {
    const { heard } = window as unknown as { heard: Float32Array[] };
    const all = new Float32Array(heard.length * 1024);
    heard.forEach((block, i) => all.set(block, i * 1024));
    const size = 256;
    const peaks = Array.from({ length: Math.floor((wanted * 48_000) / size) }, (_, i) =>
      all.subarray(i * size, (i + 1) * size).reduce((top, x) => Math.max(top, Math.abs(x)), 0),
    );
    const onsets: { at: number; peak: number; pitch: number }[] = [];
    peaks.forEach((peak, i) => {
      const before = Math.max(0, ...peaks.slice(Math.max(0, i - 5), i));
      const last = onsets.at(-1);
      if (peak < 0.04 || before > peak * 0.5 || (last && (i * size) / 48_000 - last.at < 0.06))
        return;
      const from = i * size + size;
      const part = all.subarray(from, from + 720);
      const turns = part.reduce((n, x, k) => n + (k > 0 && x >= 0 !== part[k - 1] >= 0 ? 1 : 0), 0);
      onsets.push({ at: (i * size) / 48_000, peak, pitch: turns / 2 / 0.015 });
    });
    return onsets;
  }, seconds);
}

/** Waits until something is heard: at most as long as a kit may take to be computed. */
export async function hears(page: Page): Promise<void> {
  await listenAnew(page);
  await page.waitForFunction(
    () =>
      (window as unknown as { heard: Float32Array[] }).heard.some((block) =>
        block.some((x) => Math.abs(x) > 0.02),
      ),
    { timeout: PATIENCE },
  );
}

/** Waits until nothing is heard for a fifth of a second. */
export async function hearsNothing(page: Page): Promise<void> {
  await page.waitForFunction(
    () => {
      const last = (window as unknown as { heard: Float32Array[] }).heard.slice(-10);
      return last.length === 10 && last.every((block) => block.every((x) => Math.abs(x) < 0.001));
    },
    { timeout: PATIENCE },
  );
}

/** Draws a rising line over something, in one stroke from its left to its right, with Shift where it says so. */
export async function drawRising(page: Page, selector: string, key?: 'Shift'): Promise<void> {
  const field = await page.waitForSelector(selector, { timeout: PATIENCE });
  const box = (await field!.boundingBox())!;
  const at = (share: number) => ({
    x: box.x + 4 + share * (box.width - 8),
    y: box.y + 6 + (1 - share) * (box.height - 16),
  });
  if (key) await page.keyboard.down(key);
  await drag(page, [at(0), at(0.5), at(1)]);
  if (key) await page.keyboard.up(key);
}

/** The first channel of a WAV, by a reader that is not ours. */
export const soundOf = (bytes: Uint8Array) =>
  wavDecoder.decode.sync(bytes.slice().buffer as ArrayBuffer).channelData[0];

/** Chooses an option of a field. */
export const choose = async (page: Page, field: string, option: string) => {
  await (await named(page, field)).click();
  await (await page.waitForSelector(`aria/${option}[role="option"]`))!.click();
};

/** Presses the button that writes what is listed, however many files that are. */
export const write = (page: Page) =>
  page.$$eval('button', (buttons) =>
    buttons.find((one) => /^write (the file|\d+ files)$/.test(one.innerText))?.click(),
  );

/**
 * Instead of the browser's picker, which nobody can press here, a folder of the page's own storage.
 * @returns the files that are in it, by path, and how large they are
 */
export async function folderOf(page: Page): Promise<() => Promise<[string, number][]>> {
  await page.evaluateOnNewDocument(() => {
    Object.assign(window, {
      showDirectoryPicker: async () =>
        (await navigator.storage.getDirectory()).getDirectoryHandle('out', { create: true }),
    });
  });
  return () =>
    page.evaluate(async () => {
      const found: [string, number][] = [];
      const look = async (folder: FileSystemDirectoryHandle, path: string): Promise<void> => {
        const within = folder as unknown as {
          values(): AsyncIterable<FileSystemDirectoryHandle | FileSystemFileHandle>;
        };
        for await (const one of within.values()) {
          if (one.kind === 'directory') await look(one, `${path}${one.name}/`);
          else found.push([path + one.name, (await one.getFile()).size]);
        }
      };
      const out = await (await navigator.storage.getDirectory()).getDirectoryHandle('out');
      await look(out, '');
      return found.sort();
    });
}

/** The bytes of a file in that folder. */
export async function bytesIn(page: Page, path: string): Promise<Buffer> {
  const read = await page.evaluate(async (names) => {
    let folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('out');
    for (const name of names.slice(0, -1)) folder = await folder.getDirectoryHandle(name);
    const file = await (await folder.getFileHandle(names.at(-1)!)).getFile();
    const bytes = new Uint8Array(await file.arrayBuffer());
    return Array.from(bytes, (byte) => String.fromCharCode(byte)).join('');
  }, path.split('/'));
  return Buffer.from(read, 'latin1');
}
