/** @about stages/deliver */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import { mp3Bytes } from '../src/core/deliver';
import { pieceOf } from '../src/core/model';
import { tempoOfSong, timeline } from '../src/core/weave';
import { demoSongs } from '../src/demo';
import type { Page } from 'puppeteer-core';
import {
  changing,
  choose,
  chooseFile,
  DEMO,
  downloads,
  eventually,
  folderOf,
  freshPages,
  goTo,
  keys,
  listOfSongs,
  openPage,
  pressButton,
  seesText,
  soundOf,
  write,
} from './browser';

const bench = freshPages();

/**
 * Hits as a table says them: at which tick each sounds, what is struck and how hard. A tempo in whole microseconds,
 * parts of ticks, and the step a hit is pushed from are not in every file.
 */
const hitsIn = (csv: string) =>
  csv
    .trim()
    .split('\r\n')
    .slice(1)
    .map((row) => {
      const [, tick, struck] = /^\d+,\d+,([\d.]+),[\d.]+,(.+),-?[\d.]+,\d+,\d+,/.exec(row)!;
      return `${Math.round(Number(tick))} ${struck}`;
    })
    .sort();

/** All hits of the open song, as Deliver writes them. */
async function tableOf(page: Page, saved: { next(): Promise<Buffer> }): Promise<string[]> {
  await pressButton(page, 'text');
  await choose(page, 'as', 'a table of all hits (CSV)');
  await seesText(page, /\.csv/);
  await write(page);
  return hitsIn(String(await saved.next()));
}

test('a section goes out as a mix and its stems, which add up to it once that is asked for', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/deliver`);
  await pressButton(page, 'audio');
  await choose(page, 'what', 'section: intro');
  await page.click('aria/one file per track (by piece)');
  // Before anything is written it is said by how much they do not.
  await seesText(page, /The stems are up to \d+\.\d dB (louder|softer) together than the mix/);
  await pressButton(page, 'make them add up');
  await eventually(
    () => page.$eval('body', (body) => body.innerText),
    (text) => expect(text).not.toMatch(/The stems (are up to|may)/),
  );
  await seesText(page, /Saltmarsh Signal, intro, \d\d Kick\.wav/);
  const rows = () =>
    page.$$eval('[aria-label="what will be written"] tbody tr', (all) =>
      all
        .map((row) => [...row.querySelectorAll('td')].map((cell) => cell.textContent))
        .filter((cells) => cells.length > 4),
    );
  const foretold = await eventually(rows, (all) => {
    for (const cells of all) expect(cells.at(-1)).toMatch(/dB$/);
  });
  const saved = await downloads(page);
  await write(page);
  const files = unzipSync(await saved.next());
  await seesText(page, /files were saved in/);
  // Listened to, a file is said to be what it then is: path, hits, time, size and peak.
  expect(await rows()).toEqual(foretold);
  const mix = soundOf(files['Saltmarsh Signal, intro.wav']);
  const stems = Object.keys(files).filter((name) => name !== 'Saltmarsh Signal, intro.wav');
  expect(stems.length).toBeGreaterThan(2);
  const parts = stems.map((name) => soundOf(files[name]));
  expect(parts.map(({ length }) => length)).toEqual(parts.map(() => mix.length));
  let apart = 0;
  for (let i = 0; i < mix.length; i += 7) {
    const sum = parts.reduce((all, part) => all + part[i], 0);
    apart = Math.max(apart, Math.abs(sum - mix[i]));
  }
  // Each file has its own dither, of a step of 24 bits.
  expect(apart).toBeLessThan((stems.length + 1) * 2 ** -21);
  expect(mix.some((x) => Math.abs(x) > 0.02)).toBe(true);
});

test('a long song is cancelled, and nothing is written', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/deliver`);
  await pressButton(page, 'audio');
  await pressButton(page, 'write the file');
  await page.waitForSelector('[aria-label="files being written"]');
  await pressButton(page, 'cancel');
  await seesText(page, 'Cancelled: no file was written.');
  await eventually(
    () => page.$('[aria-label="files being written"]'),
    (bar) => expect(bar).toBeNull(),
  );
});

test('each section goes out as a MIDI file on the tracks of the layout, under names of one’s own', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await changing(page, () => pressButton(page, 'by family'));
  await goTo(page, `${DEMO}/deliver`);
  await choose(page, 'what', 'each section, a file each');
  await choose(page, 'tracks', 'as in Balance: by family (type 1)');
  await choose(page, 'channel of Kick', '3');
  const names = await page.waitForSelector('aria/names of the files');
  await names!.click({ count: 3 });
  await page.keyboard.type('all/{nn} {part}');
  await seesText(page, 'all/02 verse 1.mid');
  const saved = await downloads(page);
  await write(page);
  const files = unzipSync(await saved.next());
  expect(Object.keys(files)).toHaveLength(9);
  const { header, tracks } = parseMidi(files['all/01 intro.mid']);
  expect(header.format).toBe(1);
  const called = tracks.flatMap((events) =>
    events.flatMap((event) => (event.type === 'trackName' ? [event.text] : [])),
  );
  expect(called.slice(1)).toEqual(expect.arrayContaining(['Cymbals', 'Snare', 'Kick']));
  const channels = new Set(
    tracks[called.indexOf('Kick')].flatMap((one) => (one.type === 'noteOn' ? [one.channel] : [])),
  );
  expect([...channels]).toEqual([2]);
});

test('the demo comes back from MIDI, from a score and from its song file as the equal song', async () => {
  const { page, browser } = bench;
  const saved = await downloads(page);
  await goTo(page, `${DEMO}/deliver`);
  const hits = await tableOf(page, saved);
  expect(hits.length).toBeGreaterThan(1000);
  await pressButton(page, 'MIDI');
  await choose(page, 'tracks', 'as in Balance: by piece (type 1)');
  await write(page);
  const midi = await saved.next();
  expect(parseMidi(midi).header.format).toBe(1);
  await pressButton(page, 'chart');
  await choose(page, 'as', 'a score for other programs (MusicXML)');
  await seesText(page, 'Saltmarsh Signal.musicxml');
  await write(page);
  const score = await saved.next();
  await pressButton(page, 'song file');
  await pressButton(page, 'save the song');
  const project = await saved.next();
  for (const [name, bytes] of [
    ['back.mid', midi],
    ['back.musicxml', score],
    ['back.loom.zip', project],
  ] as const) {
    const context = await browser.createBrowserContext();
    const fresh = (await openPage(context, '/')).page;
    await listOfSongs(fresh);
    await chooseFile(fresh, name, bytes);
    if (name !== 'back.loom.zip') await pressButton(fresh, 'open as a new song');
    await fresh.waitForFunction(() => /\/song\/.+\/weave$/.test(location.pathname));
    await goTo(fresh, new URL(fresh.url()).pathname.replace(/weave$/, 'deliver'));
    const back = await tableOf(fresh, await downloads(fresh));
    expect(back).toEqual(hits);
    await context.close();
  }
  expect(await measuresIn(await browser.newPage(), String(score))).toBe(64);
});

/** How many measures an engraver that is not ours makes of a score, all of them drawn. */
async function measuresIn(page: Page, score: string): Promise<number> {
  const { resolve } = createRequire(import.meta.url);
  const path = resolve('opensheetmusicdisplay/build/opensheetmusicdisplay.min.js');
  await page.setContent('<div id="score" style="width:1200px"></div>');
  await page.evaluate(readFileSync(path, 'utf8'));
  return page.evaluate(async (xml) => {
    const { opensheetmusicdisplay } = window as unknown as {
      opensheetmusicdisplay: {
        OpenSheetMusicDisplay: new (
          id: string,
          options: object,
        ) => {
          load(xml: string): Promise<unknown>;
          render(): void;
          Sheet: { SourceMeasures: unknown[] };
        };
      };
    };
    const display = new opensheetmusicdisplay.OpenSheetMusicDisplay('score', { backend: 'svg' });
    await display.load(xml);
    display.render();
    if (document.querySelectorAll('#score svg .vf-stavenote').length < 500) return 0;
    return display.Sheet.SourceMeasures.length;
  }, score);
}

/** What would be printed, in place of the dialog of the browser. */
const keepPrinted = (page: Page) =>
  page.evaluateOnNewDocument(() => {
    const printed: string[] = [];
    Object.assign(window, { printed });
    const { get } = Object.getOwnPropertyDescriptor(HTMLIFrameElement.prototype, 'contentWindow')!;
    Object.defineProperty(HTMLIFrameElement.prototype, 'contentWindow', {
      get(this: HTMLIFrameElement) {
        const inside = get!.call(this) as Window | null;
        if (!inside) return inside;
        inside.print = () => {
          for (const svg of inside.document.querySelectorAll('svg')) printed.push(svg.outerHTML);
          inside.dispatchEvent(new Event('afterprint'));
        };
        return inside;
      },
    });
  });

test('a chart is drawn page by page, in three densities, written as SVG and printed on its paper', async () => {
  const { page } = bench;
  await keepPrinted(page);
  await goTo(page, `${DEMO}/deliver`);
  await pressButton(page, 'chart');
  await page.waitForSelector('[data-drawn] svg');
  const notes = () => page.$$eval('[data-drawn] .vf-stavenote', (found) => found.length);
  const full = await notes();
  expect(full).toBeGreaterThan(150);
  await choose(page, 'density', 'slashes, with cues');
  await eventually(notes, (n) => expect(n).toBeLessThan(full * 0.9));
  await choose(page, 'density', 'the form only');
  await eventually(notes, (n) => expect(n).toBe(0));
  await seesText(page, 'verse 2');
  await choose(page, 'density', 'every note');
  await eventually(notes, (n) => expect(n).toBe(full));
  await choose(page, 'hand percussion', 'left out');
  await seesText(page, 'of hand percussion');
  await choose(page, 'hand percussion', 'on a line of its own');
  await choose(page, 'paper', 'Letter');
  const saved = await downloads(page);
  await write(page);
  const files = unzipSync(await saved.next());
  const pages = Object.values(files).map((bytes) => new TextDecoder().decode(bytes));
  expect(pages.length).toBeGreaterThan(1);
  for (const svg of pages) expect(svg).toMatch(/width="215\.9mm"[\s\S]*font\/woff2/);
  await page.$$eval('button', (all) => all.find((one) => /^print/.test(one.innerText))?.click());
  const printed = await eventually(
    () => page.evaluate(() => (window as unknown as { printed: string[] }).printed.length),
    (n) => expect(n).toBe(pages.length),
  );
  expect(printed).toBe(pages.length);
});

/** How loud a stretch of samples is at its loudest. */
const loudest = (samples: Float32Array, from: number, to: number) =>
  samples
    .subarray(Math.max(0, from), Math.max(0, to))
    .reduce((most, x) => Math.max(most, Math.abs(x)), 0);

test('each stem of the demo sounds where its hits are, and is silent before them and long after', async () => {
  const { page } = bench;
  await goTo(page, `${DEMO}/balance`);
  await changing(page, () => pressButton(page, 'by family'));
  const saved = await downloads(page);
  await goTo(page, `${DEMO}/deliver`);
  await pressButton(page, 'audio');
  await page.click('aria/the mix, in one file');
  await page.click('aria/one file per track (by family)');
  await choose(page, 'bit depth', '16 bits, with dither');
  await seesText(page, /Saltmarsh Signal, \d\d Kick\.wav/);
  await write(page);
  const files = unzipSync(await saved.next());
  const [demo] = demoSongs();
  const tempo = tempoOfSong(demo);
  const byTrack = new Map<string, number[]>();
  for (const { piece, tick } of timeline(demo)) {
    const { family } = pieceOf(piece, demo.kit);
    byTrack.set(family, [...(byTrack.get(family) ?? []), tempo.secondsAt(tick)]);
  }
  expect(Object.keys(files)).toHaveLength(byTrack.size);
  const families = [...byTrack.keys()];
  const step = 2 ** -15;
  for (const [path, bytes] of Object.entries(files)) {
    const [, name] = /\d\d ([^.]+)\.wav$/.exec(path)!;
    const struck = byTrack.get(families.find((family) => name.toLowerCase().endsWith(family))!)!;
    const sound = soundOf(bytes);
    const at = (seconds: number) => Math.round(seconds * 48_000);
    // Dither is a step either way.
    expect(loudest(sound, 0, at(struck[0]) - 48)).toBeLessThan(2.5 * step);
    for (const [i, hit] of struck.entries()) {
      expect(loudest(sound, at(hit) - 2, at(hit) + 1500)).toBeGreaterThan(8 * step);
      const next = struck[i + 1] ?? sound.length / 48_000;
      if (next - hit > 9) {
        expect(loudest(sound, at(hit + 8.5), at(next) - 48)).toBeLessThan(2.5 * step);
      }
    }
  }
});

test('sound goes out packed without loss, and small with some', async () => {
  const { page } = bench;
  const saved = await downloads(page);
  await goTo(page, `${DEMO}/deliver`);
  await pressButton(page, 'audio');
  await choose(page, 'what', 'section: intro');
  await choose(page, 'ending', 'a loop: the tail is mixed into its start');
  await choose(page, 'bit depth', '16 bits, with dither');
  const files: Buffer[] = [];
  for (const [kind, ending] of [
    ['WAV: uncompressed', 'wav'],
    ['FLAC: lossless', 'flac'],
    ['MP3: small, lossy', 'mp3'],
  ]) {
    await choose(page, 'as', kind);
    await seesText(page, `Saltmarsh Signal, intro.${ending}`);
    await write(page);
    files.push(await saved.next());
  }
  const decoded = await page.evaluate(
    async (all) => {
      const context = new OfflineAudioContext(2, 1, 48_000);
      const sides: number[][] = [];
      for (const one of all) {
        const bytes = Uint8Array.from(atob(one), (c) => c.charCodeAt(0));
        const { length, ...buffer } = await context.decodeAudioData(bytes.buffer).then((b) => ({
          length: b.length,
          left: [...b.getChannelData(0).subarray(0, 96_000)],
        }));
        sides.push([length, ...buffer.left]);
      }
      return sides;
    },
    files.map((file) => file.toString('base64')),
  );
  const [wav, flac, mp3] = decoded;
  // A loop's beginning is written last, or first: its dither is another one, of a step each way.
  const apart = wav.slice(1).map((x, i) => Math.abs(x - flac[i + 1]));
  expect(flac[0]).toBe(wav[0]);
  expect(Math.max(...apart)).toBeLessThan(2.5 * 2 ** -15);
  expect(files[1].length).toBeLessThan(files[0].length * 0.8);
  expect(files[2].length).toBeLessThan(files[1].length);
  // Its header says what the encoder put before and behind, so that a reader has the song to the sample.
  expect(mp3[0]).toBe(wav[0]);
  expect(files[2]).toHaveLength(mp3Bytes(wav[0], 48_000, 320));
  const power = (side: number[]) => side.slice(1).reduce((sum, x) => sum + x * x, 0);
  const difference = mp3.map((x, i) => x - wav[i]);
  expect(10 * Math.log10(power(difference) / power(wav))).toBeLessThan(-20);
  expect(10 * Math.log10(power(mp3) / power(wav))).toBeCloseTo(0, 0);
});

test('everything is backed up into a folder by itself, and a song file has its picture in it', async () => {
  const { page } = bench;
  const inFolder = await folderOf(page);
  const saved = await downloads(page);
  await page.reload();
  await listOfSongs(page);
  await pressButton(page, 'back up by itself …');
  await seesText(page, 'saved into “out” by itself');
  const [[name, size], ...more] = await inFolder();
  expect(name).toMatch(/^verse-loom-.*\.backup\.zip$/);
  expect(size).toBeGreaterThan(10_000);
  expect(more).toEqual([]);
  await pressButton(page, 'stop backing up into “out”');
  await goTo(page, `${DEMO}/deliver`);
  await pressButton(page, 'song file');
  await page.waitForSelector('aria/the picture of Saltmarsh Signal that is in the file');
  await pressButton(page, 'save the song');
  const parts = unzipSync(await saved.next());
  expect([...parts['picture.png'].subarray(1, 4)].map((c) => String.fromCharCode(c)).join('')).toBe(
    'PNG',
  );
});

test('files are rendered straight into a folder, and of what is cancelled nothing is left in it', async () => {
  const { page } = bench;
  const inFolder = await folderOf(page);
  await goTo(page, `${DEMO}/deliver`);
  await pressButton(page, 'audio');
  await choose(page, 'what', 'each section, a file each');
  const names = await page.waitForSelector('aria/names of the files');
  await names!.click({ count: 3 });
  await page.keyboard.type('stems/{nn} {part}');
  await seesText(page, 'stems/02 verse 1.wav');
  await choose(page, 'packed', 'into a folder');
  await write(page);
  await seesText(page, '1 of 9 written');
  await pressButton(page, 'cancel');
  await seesText(page, 'Cancelled: no file was written.');
  await eventually(inFolder, (files) => expect(files).toEqual([]));
  await choose(page, 'as', 'FLAC: lossless');
  await choose(page, 'what', 'some sections');
  await seesText(page, 'Saltmarsh Signal, intro.flac');
  await page.click('aria/a file each');
  await seesText(page, 'stems/01 intro.flac');
  await page.click('aria/one file per track (by piece)');
  await write(page);
  await seesText(page, /files were written into “out”/);
  const files = await inFolder();
  expect(files.length).toBeGreaterThan(3);
  for (const [path, size] of files) {
    expect(path).toMatch(/^stems\/01 intro.*\.flac$/);
    expect(size).toBeGreaterThan(10_000);
  }
});

test('a section becomes a sound that is played instead, is turned round, and is taken back', async () => {
  const { page } = bench;
  const saved = await downloads(page);
  await goTo(page, `${DEMO}/deliver`);
  const before = await tableOf(page, saved);
  await goTo(page, `${DEMO}/weave`);
  await page.click('[aria-label="sections in order"] button');
  await keys(page, 'Alt+b');
  await choose(page, 'what of it', 'only Kick');
  await pressButton(page, 'bounce');
  await seesText(page, '“Kick, intro, bounced” is a sound now');
  await goTo(page, `${DEMO}/deliver`);
  const bounced = await tableOf(page, saved);
  const of = (hits: readonly string[], name: RegExp) => hits.filter((hit) => name.test(hit));
  expect(of(bounced, /bounced/)).toHaveLength(1);
  const others = (hits: readonly string[]) => hits.filter((hit) => !/kick/i.test(hit));
  expect(others(bounced)).toEqual(others(before));
  expect(of(bounced, /kick/i).length).toBeLessThan(of(before, /kick/i).length);
  await goTo(page, `${DEMO}/weave`);
  await keys(page, 'Alt+b');
  await seesText(page, 'in one part');
  const to = await page.waitForSelector('aria/to bar');
  await to!.click({ count: 3 });
  await keys(page, '1', 'Tab');
  await changing(page, () => pressButton(page, 'turn round'));
  await seesText(page, 'in 2 parts');
  await changing(page, () => pressButton(page, 'take back'));
  await pressButton(page, 'done');
  await goTo(page, `${DEMO}/deliver`);
  expect(await tableOf(page, saved)).toEqual(before);
});
