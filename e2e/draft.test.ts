/** @about stages/weave */
import { parseMidi, writeMidi, type MidiEvent } from 'midi-file';
import type { Page } from 'puppeteer-core';
import {
  atStage,
  changing,
  downloads,
  drag,
  drawn,
  drawRising,
  eventually,
  freshPages,
  goTo,
  keys,
  named,
  newSong,
  nothingInFront,
  onDisk,
  pressButton,
  seesText,
  PATIENCE,
} from './browser';

const bench = freshPages();
let page: Page;
beforeEach(() => {
  page = bench.page;
});

const FORM = 'intro 4, verse 8, chorus 8, verse 8, chorus 8, outro 4';

/** A bass line: on 1, 1a, 2& and 4 of every bar. */
function bassFile(bars: number): Uint8Array {
  const events: MidiEvent[] = [];
  const ticks = Array.from({ length: bars }, (_, bar) => [0, 3, 6, 12].map((at) => bar * 16 + at));
  let now = 0;
  for (const sixteenth of ticks.flat()) {
    const at = sixteenth * 24;
    const note = { channel: 0, noteNumber: 40 };
    events.push({ deltaTime: at - now, type: 'noteOn', velocity: 96, ...note });
    events.push({ deltaTime: 20, type: 'noteOff', velocity: 0, ...note });
    now = at + 20;
  }
  const end = { deltaTime: 0, meta: true, type: 'endOfTrack' } as MidiEvent;
  const name = { deltaTime: 0, meta: true, type: 'trackName', text: 'Bass' } as MidiEvent;
  const header = { format: 0 as const, numTracks: 1, ticksPerBeat: 96 };
  return Uint8Array.from(writeMidi({ header, tracks: [[name, ...events, end]] }));
}

async function takeBass(): Promise<void> {
  await keys(page, 'Alt+g');
  const field = await page.waitForSelector(
    '[aria-label="choose a MIDI file with a reference part"]',
  );
  await (field as import('puppeteer-core').ElementHandle<HTMLInputElement>).uploadFile(
    onDisk('bass.mid', bassFile(40)),
  );
  await changing(page, () => pressButton(page, 'use it as a reference part'));
  await keys(page, 'Escape');
  await nothingInFront(page);
}

const status = () =>
  page.$eval('[aria-label="state of the draft"]', (card) => (card as HTMLElement).innerText);

const seed = async () => Number(/seed (\d+)/.exec(await status())![1]);

const header = (n: number) =>
  `[aria-label="sections in order"] [role=listitem]:nth-child(${n}) button`;

/** Waits until nothing is being drafted any more. */
const settled = () =>
  page.waitForFunction(() => !document.querySelector('[aria-label=drafting]'), {
    timeout: PATIENCE,
  });

/** Chooses two bars by the numbers under the cloth. */
async function chooseBars(first: number): Promise<void> {
  const numbers = (await (await page.$('[data-bar-numbers]'))!.boundingBox())!;
  const bar = numbers.width / 40;
  const at = (n: number) => ({ x: numbers.x + (n - 0.5) * bar, y: numbers.y + 8 });
  await drag(page, [at(first), at(first + 1)]);
}

async function savedAsTypeOne(): Promise<ReturnType<typeof parseMidi>> {
  const saved = await downloads(page);
  const path = new URL(page.url()).pathname.replace(/\/\w+$/, '');
  await goTo(page, `${path}/deliver`);
  await pressButton(page, 'MIDI');
  await (await named(page, 'tracks')).click();
  await (await page.waitForSelector(
    'aria/one named track a kit piece (type 1)[role="option"]',
  ))!.click();
  await nothingInFront(page);
  await page.$$eval('button', (buttons) =>
    buttons.find((one) => /^write (the file|\d+ files)$/.test(one.innerText))?.click(),
  );
  return parseMidi(await saved.next());
}

function expectWholePart(midi: ReturnType<typeof parseMidi>): void {
  expect(midi.header.format).toBe(1);
  const named = midi.tracks.map((track) => {
    const name = track.find((event) => event.type === 'trackName') as { text?: string } | undefined;
    const strokes = track.filter((event) => event.type === 'noteOn').length;
    return [name?.text ?? '', strokes] as const;
  });
  const strokesOf = (piece: string) => named.find(([name]) => name === piece)?.[1] ?? 0;
  // Forty bars have their kicks, their backbeats, and something that keeps time.
  expect(strokesOf('Kick')).toBeGreaterThan(60);
  expect(strokesOf('Snare')).toBeGreaterThan(60);
  expect(strokesOf('Hi-hat') + strokesOf('Ride')).toBeGreaterThan(150);
}

test('from an empty song to a part that is drafted, changed and delivered, with the mouse', async () => {
  const path = await newSong(page);
  await goTo(page, `${path}/weave`);
  await (await page.waitForSelector('button::-p-text(type the form)'))!.click();
  await drawn(page);
  await page.keyboard.type(FORM);
  await changing(page, () => keys(page, 'Enter'));
  await takeBass();
  await (await page.waitForSelector('[data-draft-button]'))!.click();
  await drawn(page);
  await changing(page, () => drawRising(page, '[data-energy]'));
  await settled();
  await seesText(page, 'drafted 40 of 40 bars');
  await eventually(status, (says) => expect(says).toMatch(/· playable/));

  // One chorus is rolled, and nothing else.
  await (await page.waitForSelector(header(3)))!.click();
  await drawn(page);
  await pressButton(page, 'chorus');
  await seesText(page, 'Chorus, and its 2 places');
  const before = await seed();
  await changing(page, () =>
    page.$$eval('[aria-label="wishes for the draft"] button', (buttons) =>
      buttons.findLast((one) => one.innerText === 'chorus')?.click(),
    ),
  );
  await settled();
  expect(await seed()).toBe(before);

  // Two bars are changed by hand, and stay through another draft.
  await pressButton(page, 'here only');
  await chooseBars(6);
  await (await page.waitForSelector('button::-p-text(Kick)'))!.click();
  await changing(page, () => keys(page, 'x'));
  await seesText(page, '2 changed by hand');
  await seesText(page, 'leaves bars 6 to 7 as they are');
  await changing(page, () => pressButton(page, 'roll again'));
  await settled();
  await seesText(page, '2 changed by hand');
  expect(await seed()).not.toBe(before);

  // A stroke is asked why it is there.
  const canvas = (await (await page.$('[data-cloth] canvas'))!.boundingBox())!;
  await page.mouse.click(canvas.x + canvas.width * 0.31, canvas.y + canvas.height * 0.97);
  await seesText(page, /Why this kick\?/);
  await page.waitForSelector('[aria-label=why]');

  await pressButton(page, 'keep all');
  expectWholePart(await savedAsTypeOne());
});

test('a stroke over the map of the whole song draws its energy too; Escape takes one back that is going on', async () => {
  const path = await newSong(page);
  await goTo(page, `${path}/weave`);
  await keys(page, 'w');
  await page.keyboard.type(FORM);
  await changing(page, () => keys(page, 'Enter'));
  await keys(page, 'Shift+d');
  const map = '[data-energy-map]';
  /** The heights of the line over the song, from its beginning to its end: 0 is at the top. */
  const heights = () =>
    page.$eval('[data-energy] path[fill=none]', (line) =>
      [...line.getAttribute('d')!.matchAll(/,([\d.]+)/g)].map(([, y]) => Number(y)),
    );
  await page.waitForSelector(`${map} path`);
  const proposed = await heights();

  const box = (await (await page.$(map))!.boundingBox())!;
  await page.keyboard.down('Shift');
  await page.mouse.move(box.x + 10, box.y + 4);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y + 44, { steps: 4 });
  await eventually(heights, (now) => expect(now).not.toEqual(proposed));
  await page.keyboard.press('Escape');
  await eventually(heights, (now) => expect(now).toEqual(proposed));
  await page.mouse.up();
  await page.keyboard.up('Shift');

  await changing(page, () => drawRising(page, map, 'Shift'));
  await settled();
  await seesText(page, 'drafted 40 of 40 bars');
  await eventually(heights, (now) => {
    expect(now[0]).toBeGreaterThan(25);
    expect(now.at(-1)).toBeLessThan(8);
    expect([...now].sort((a, b) => b - a)).toEqual(now);
  });
});

test('the whole way with keys alone', async () => {
  await newSong(page);
  await keys(page, 'Alt+3');
  await atStage(page, 'weave');
  await keys(page, 'w');
  await page.keyboard.type(FORM);
  await changing(page, () => keys(page, 'Enter'));
  await keys(page, 'Shift+d');
  await changing(page, () => keys(page, 'Shift+e'));
  await settled();
  await seesText(page, 'drafted 40 of 40 bars');
  // More energy in the second section, then another chorus, other fills, another kick.
  await keys(page, 'ArrowRight', 'ArrowRight');
  await changing(page, () => keys(page, 'Shift+ArrowUp'));
  await settled();
  await changing(page, () => keys(page, 'Shift+s'));
  await settled();
  await changing(page, () => keys(page, 'Shift+f'));
  await settled();
  await keys(page, 'Shift+w');
  await seesText(page, /Why bar \d+\?/);
  // The chosen section is locked: the next draft leaves it.
  await changing(page, () => keys(page, 'z'));
  await seesText(page, '16 locked');
  await changing(page, () => keys(page, 'Shift+r'));
  await settled();
  // Before and after are compared by undo, and all of it is taken back.
  await keys(page, 'Shift+b');
  await seesText(page, 'hear after');
  await seesText(page, '40 empty');
  await keys(page, 'Shift+b');
  await seesText(page, 'hear before');
  await changing(page, () => keys(page, 'Alt+Backspace'));
  await seesText(page, '40 empty');
});

test('an empty song offers four ways; drafting a part is one press, and undone by one', async () => {
  const path = await newSong(page);
  const ways = await page.$$eval('[aria-label="ways to begin"] button', (buttons) =>
    buttons.map((one) => one.getAttribute('aria-label')),
  );
  expect(ways).toEqual(['write a beat', 'take a groove', 'draft a part', 'bring a file']);
  await changing(page, () => pressButton(page, 'draft a part'));
  await atStage(page, 'weave');
  await settled();
  await seesText(page, /drafted (\d+) of \1 bars/);
  await changing(page, () => keys(page, 'Control+z'));
  await seesText(page, 'Nothing is woven yet');
  await changing(page, () => pressButton(page, 'write a beat'));
  await atStage(page, 'shape');
  expect(new URL(page.url()).pathname).toBe(`${path}/shape`);
  expect(await page.$('[aria-label="ways to begin"]')).toBeNull();
});

test('more like this gives eight neighbours, heard with the arrow keys and kept', async () => {
  await goTo(page, '/song/demo-saltmarsh/gather');
  await keys(page, 'ArrowDown');
  await drawn(page);
  await keys(page, 'Shift+m');
  const rows = () =>
    page.$$eval('[role=listbox][aria-label=grooves] [role=option]', (all) =>
      all.map((row) => row.textContent ?? ''),
    );
  await eventually(rows, (names) => expect(names).toHaveLength(8));
  await keys(page, 'ArrowDown', 'ArrowDown');
  await changing(page, () => keys(page, 'k'));
  await seesText(page, /, 3: /);
});
