/** @about shell state/session */
import { parseMidi } from 'midi-file';
import type { Page } from 'puppeteer-core';
import { fileOf } from '../src/core/testing/arbitraries';
import {
  atStage,
  chooseFile,
  DEMO,
  downloads,
  dropFile,
  goTo,
  keys,
  named,
  newSong,
  press,
  pressButton,
  saved,
  seesText,
  stepPoint,
  freshPages,
  listOfSongs,
} from './browser';

const bench = freshPages();
let page: Page;
let files: Awaited<ReturnType<typeof downloads>>;
beforeEach(async () => {
  page = bench.page;
  await listOfSongs(page);
  files = await downloads(page);
});

/** Onsets of a file: tick, note, velocity, channel. */
function onsets(bytes: Uint8Array): number[][] {
  return parseMidi(bytes)
    .tracks.flatMap((track) => {
      let tick = 0;
      return track.flatMap((event) => {
        tick += event.deltaTime;
        return event.type === 'noteOn'
          ? [[tick, event.noteNumber, event.velocity, event.channel]]
          : [];
      });
    })
    .sort((a, b) => a[0] - b[0] || a[1] - b[1]);
}

const drums = [0, 89, 178, 200, 267].map((tick, i) => ({
  tick,
  note: [36, 38, 28, 42, 100][i],
  velocity: 40 + 10 * i,
  duration: 11,
  channel: 9,
}));
const odd = fileOf(drums, { ppq: 89, meter: { beats: 7, unit: 4 } });

async function chooseOption(field: string, option: string): Promise<void> {
  await (await named(page, field)).click();
  const found = await page.waitForSelector(`aria/${option}[role="option"]`);
  await found!.click();
}

describe('a MIDI file that goes out', () => {
  test('holds what was written, and the pattern’s name, tempo and meter', async () => {
    await newSong(page);
    await press(page, await stepPoint(page, 'kick', 0, 100));
    await press(page, await stepPoint(page, 'snare', 960, 100));
    await keys(page, 'Control+e');
    await chooseOption('what', 'pattern: First beat');
    await seesText(page, '2 hits');
    await pressButton(page, 'write the file');
    const out = await files.next();
    expect(onsets(out).map(([tick, note]) => [tick, note])).toEqual([
      [0, 36],
      [960, 38],
    ]);
    const { header, tracks } = parseMidi(out);
    expect([header.format, header.ticksPerBeat]).toEqual([0, 960]);
    expect(tracks[0]).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ type: 'setTempo', microsecondsPerBeat: 500_000 }),
        expect.objectContaining({ type: 'timeSignature', numerator: 4, denominator: 4 }),
      ]),
    );
  });

  test('of the whole song has one named track a kit piece, and joins to the same song', async () => {
    await goTo(page, `${DEMO}/deliver`);
    await pressButton(page, 'write the file');
    const joined = await files.next();
    await chooseOption('tracks', 'one named track a kit piece (type 1)');
    await pressButton(page, 'write the file');
    const split = await files.next();
    expect(onsets(split)).toEqual(onsets(joined));
    const names = parseMidi(split).tracks.map((track) => {
      const [first] = track;
      return first.type === 'trackName' ? first.text : '';
    });
    expect(names).toEqual(expect.arrayContaining(['Crash', 'Hi-hat', 'Snare', 'Kick']));
    const texts = parseMidi(joined).tracks[0].flatMap((e) => (e.type === 'marker' ? [e.text] : []));
    expect(texts.slice(0, 3)).toEqual(['intro', 'verse 1', 'chorus 1']);
    // The guides go out only when they are asked for, and never among the drums.
    expect(names.join()).not.toContain('bass');
    await (await named(page, 'reference parts too, on channels of their own')).click();
    await seesText(page, '(reference part)');
    await pressButton(page, 'write the file');
    const all = parseMidi(await files.next()).tracks.flat();
    const channels = all.flatMap((e) => (e.type === 'noteOn' ? [e.channel] : []));
    expect(new Set(channels)).toEqual(new Set([9, 0]));
  });
});

describe('a MIDI file that comes in', () => {
  test('by drop, becomes a song; going out at its own resolution nothing has changed', async () => {
    await dropFile(page, 'odd seven.mid', odd);
    await seesText(page, 'Outside General MIDI, kept as pieces of their own: Note 100, Note 28');
    await pressButton(page, 'open as a new song');
    await atStage(page, 'weave');
    await seesText(page, 'Note 28');
    await keys(page, 'Control+e');
    await atStage(page, 'deliver');
    await chooseOption('resolution', '89, as in “odd seven.mid”');
    await pressButton(page, 'write the file');
    const out = await files.next();
    expect(onsets(out)).toEqual(onsets(odd));
    expect(parseMidi(out).header.ticksPerBeat).toBe(89);
  });

  test('with several parts, asks which; channel 10 is chosen already', async () => {
    await newSong(page);
    const piano = drums.map((note) => ({ ...note, note: note.note + 24, channel: 0 }));
    const both = fileOf([...drums, ...piano.slice(0, 3)], {
      ppq: 96,
      track: (n) => (n.channel === 9 ? 1 : 0),
    });
    await chooseFile(page, 'both.mid', both);
    await seesText(page, 'What its drums are');
    const boxes = await page.$$eval('[aria-label^="take track"]', (inputs) =>
      inputs.map((input) => [
        input.getAttribute('aria-label'),
        (input as HTMLInputElement).checked,
      ]),
    );
    expect(boxes).toEqual([
      ['take track 1, channel 1', false],
      ['take track 2, channel 10', true],
    ]);
    await seesText(page, '5 hits in 1 bar');
    await page.click('[aria-label="take track 1, channel 1"]');
    await seesText(page, '8 hits in 1 bar');
    await pressButton(page, 'add to this song’s shelf');
    await seesText(page, 'is on the shelf');
    await keys(page, 'Alt+3');
    await seesText(page, '2 kept');
    await saved(page);
  });

  const text = (content: string) => new TextEncoder().encode(content);
  test.each([
    ['letter.mid', text('Dear drummer'), /not a MIDI file: by its content it is a text file/],
    ['empty.mid', new Uint8Array(), /is empty/],
    ['photo.mid', new Uint8Array([0x89, 0x50, 0x4e, 0x47, 0, 1]), /a picture/],
    ['mute.mid', fileOf([], { ppq: 96 }), /holds no notes/],
  ])('%s is refused in words, and nothing is changed', async (name, bytes, sentence) => {
    await chooseFile(page, name, bytes);
    await seesText(page, sentence);
    await seesText(page, 'Nothing was changed.');
    await pressButton(page, 'close');
  });

  test('that is huge is refused at once', async () => {
    await page.evaluate(() => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([new Uint8Array(50 * 1024 * 1024)], 'huge.mid'));
      const field = document.querySelector<HTMLInputElement>('input[type=file]')!;
      field.files = transfer.files;
      field.dispatchEvent(new Event('change', { bubbles: true }));
    });
    await seesText(page, '“huge.mid” is 50 MB. MIDI files up to 16 MB are read');
    await pressButton(page, 'close');
  });

  test('that was cut off is read up to the cut, and says so', async () => {
    const long = fileOf(
      Array.from({ length: 60 }, (_, i) => ({ ...drums[0], tick: i * 48 })),
      { ppq: 96 },
    );
    await chooseFile(page, 'cut.mid', long.slice(0, 300));
    await seesText(page, /damaged or cut off at quarter note \d+; it was kept up to there/);
    await pressButton(page, 'cancel');
  });
});

test('a file without a drum channel takes nothing by itself; its drums and its bass are chosen, and both come in', async () => {
  const note = (tick: number, key: number, channel: number) => ({
    tick,
    note: key,
    velocity: 90,
    duration: 40,
    channel,
  });
  const notes = [0, 96, 192, 288].flatMap((tick, i) => [
    note(tick, [36, 38][i % 2], 3),
    note(tick, 28 + i, 1),
  ]);
  const bytes = fileOf(notes, { ppq: 96, track: ({ channel }) => (channel === 3 ? 0 : 1) });
  await dropFile(page, 'sketch.mid', bytes);
  await seesText(page, /is on the drum channel \(10\), and none is named like drums/);
  expect(await page.$('xpath///button[.="open as a new song"]')).toBeNull();
  const tick = async (name: string) =>
    (await page.waitForSelector(`input[aria-label="${name}"]:not([disabled])`))!.click();
  await tick('take track 1, channel 4');
  await seesText(page, '4 hits in 1 bar');
  await tick('track 2, channel 2 as a reference part');
  const open = await page.waitForSelector('xpath///button[.="open as a new song"]');
  await open!.click();
  await atStage(page, 'weave');
  await keys(page, 'Alt+g');
  await seesText(page, /track 2/i);
});
