/** @about stages/shape */
import type { Page } from 'puppeteer-core';
import { demoSongs } from '../src/demo';
import {
  changing,
  chooseFromMenu,
  drag,
  eventually,
  hitsOf,
  keys,
  named,
  newSong,
  press,
  pressButton,
  seesText,
  stepPoint,
  freshPages,
  velocities,
} from './browser';

const bench = freshPages();
let page: Page;
beforeEach(async () => {
  page = bench.page;
  await newSong(page);
  await toTopLeft();
});

const STEP = 240;

/** The steps a piece is struck on in a pattern of the demo. */
function demoSteps(pattern: string, piece: string): number[] {
  const [song] = demoSongs();
  const strand = song.patterns
    .find(({ id }) => id === pattern)!
    .strands.find((other) => other.piece === piece);
  return strand?.hits.map((hit) => hit.at / STEP) ?? [];
}

/** The steps a piece is struck on, on the screen. */
function steps(piece: string): Promise<number[]> {
  return page.$$eval(
    `[id^="cell-${piece}-"]`,
    (cells, step, name) =>
      cells
        // The id of a high floor tom begins with that of a high tom.
        .filter((cell) => cell.id === `cell-${name}-${cell.id.split('-').at(-1)}`)
        .filter((cell) => !cell.getAttribute('aria-label')!.endsWith('empty'))
        .map((cell) => Number(cell.id.split('-').at(-1)) / step),
    STEP,
    piece,
  );
}

const menu = (group: string, letter: string) => chooseFromMenu(page, group, letter);

/** Puts the cursor on the first step of the first row. */
async function toTopLeft(): Promise<void> {
  await page.focus('[role=grid]');
  const [up, left] = [Array<string>(12).fill('ArrowUp'), Array<string>(16).fill('ArrowLeft')];
  await keys(page, ...up, ...left);
}

/** The rows of a new pattern, from the top. */
const ROWS = [
  'crash',
  'ride',
  'hihat',
  'snare',
  'tom-high',
  'tom-low-mid',
  'tom-high-floor',
  'kick',
];

/** Walks the cursor with arrows only. */
async function walkTo(piece: string, step: number): Promise<void> {
  await keys(page, ...Array(12).fill('ArrowUp'), ...Array(ROWS.indexOf(piece)).fill('ArrowDown'));
  const at = await page.$eval('[role=grid]', (grid) =>
    Number(grid.getAttribute('aria-activedescendant')!.split('-').at(-1)),
  );
  const by = step - at / STEP;
  await keys(page, ...Array(Math.abs(by)).fill(by > 0 ? 'ArrowRight' : 'ArrowLeft'));
}

async function setTempo(from: number, to: number): Promise<void> {
  await (await named(page, `tempo: ${from} bpm. Press to change it.`)).click();
  await (await named(page, 'tempo of the song (bpm)')).click();
  await keys(page, 'Control+a');
  await page.keyboard.type(String(to));
  await keys(page, 'Enter', 'Escape');
  await seesText(page, `${to} bpm`);
  await page.waitForSelector('.MuiPopover-root', { hidden: true });
  await page.focus('[role=grid]');
}

/** Hats on every second step of a bar, a backbeat and a kick: what the tools are tried on. */
async function beat(): Promise<void> {
  for (let step = 0; step < 16; step += 2) {
    await press(page, await stepPoint(page, 'hihat', step * STEP, step % 4 === 0 ? 86 : 64));
  }
  await press(page, await stepPoint(page, 'snare', 4 * STEP, 110));
  await press(page, await stepPoint(page, 'kick', 0, 120));
}

/** Types a value into a number field of a tool. */
async function typeInto(field: string, value: string): Promise<void> {
  await (await named(page, field)).click();
  await keys(page, 'Control+a');
  await page.keyboard.type(value);
}

describe('the verse beat of the demo, from an empty song', () => {
  beforeEach(() => changing(page, () => keys(page, 'Shift+.')));

  test('its hats are one stroke on every second step, its backbeats presses', async () => {
    await seesText(page, 'not in the song yet');
    await keys(page, ']');
    await seesText(page, 'every 2. step');
    await drag(page, [
      await stepPoint(page, 'hihat', 0, 90),
      await stepPoint(page, 'hihat', 30 * STEP, 80),
    ]);
    await keys(page, '[');
    expect(await steps('hihat')).toEqual(demoSteps('verse', 'hihat'));
    for (const step of demoSteps('verse', 'kick')) {
      await press(page, await stepPoint(page, 'kick', step * STEP, 100));
    }
    expect(await steps('kick')).toEqual(demoSteps('verse', 'kick'));
  });

  test('its ghosts and the open hat are typed', async () => {
    const backbeats = [4, 12, 20, 28];
    for (const step of demoSteps('verse', 'snare')) {
      await walkTo('snare', step);
      await keys(page, backbeats.includes(step) ? '8' : '2');
    }
    await walkTo('hihat', 30);
    await keys(page, '6', 'v');
    expect(await steps('snare')).toEqual(demoSteps('verse', 'snare'));
    expect((await velocities(page, 'snare')).filter((velocity) => velocity < 48)).toHaveLength(5);
    expect((await hitsOf(page, 'hihat')).at(-1)).toContain('open');
  });
});

describe('playing it in', () => {
  test('the fill of the demo is played on the pads into the running loop', async () => {
    // So slow that a machine which halts for a moment still hits the step.
    await setTempo(120, 28);
    await keys(page, 'p');
    await typeInto('quantize %', '100');
    await keys(page, 'Enter');
    await page.focus('[role=grid]');
    const pads: Record<string, string> = {
      hihat: 'KeyD',
      snare: 'KeyX',
      'tom-high': 'KeyB',
      'tom-low-mid': 'KeyN',
      'tom-high-floor': 'KeyM',
      kick: 'KeyZ',
    };
    const played = Object.entries(pads)
      .flatMap(([piece, code]) => demoSteps('gull', piece).map((step) => ({ step, code })))
      .sort((a, b) => a.step - b.step);
    await pressButton(page, 'record');
    await page.evaluate(
      (strokes) =>
        new Promise<void>((done) => {
          let next = 0;
          let wasAt = -1;
          let counted = false;
          const look = () => {
            const text = document.querySelector('[role=timer]')!.textContent!;
            const [bar, beat, part] = text.split(' · ').map(Number);
            // At rest it stands on the first beat: what counts comes after the count-in.
            counted ||= bar !== 1;
            const at = counted && bar === 1 ? (beat - 1) * 4 + part / 25 : -1;
            // The count-in is before the bar; a loop that came round ends the pass.
            if (at < wasAt - 8) return done();
            wasAt = at;
            while (next < strokes.length && at >= strokes[next].step && at < 16) {
              const { code } = strokes[next++];
              document.body.dispatchEvent(
                new KeyboardEvent('keydown', {
                  code,
                  key: code.at(-1)!.toLowerCase(),
                  bubbles: true,
                }),
              );
            }
            requestAnimationFrame(look);
          };
          look();
        }),
      played,
    );
    await pressButton(page, 'stop recording');
    await page.focus('[role=grid]');
    await keys(page, 'Space', 'p');
    for (const piece of Object.keys(pads)) {
      await eventually(
        () => steps(piece),
        (seen) => expect([piece, seen]).toEqual([piece, demoSteps('gull', piece)]),
      );
    }
    // One pass is one step of undo.
    await changing(page, () => keys(page, 'Control+z'));
    for (const piece of Object.keys(pads)) expect(await steps(piece)).toEqual([]);
    await changing(page, () => keys(page, 'Control+y'));
    expect(await steps('kick')).toEqual(demoSteps('gull', 'kick'));
  });

  test('a MIDI controller plays the kit, and is explained where the browser has none', async () => {
    await page.evaluate(() => {
      const input = { name: 'Tin pads', onmidimessage: undefined as unknown };
      Object.assign(window, { input });
      const access = { inputs: new Map([['1', input]]), onstatechange: null };
      Object.defineProperty(navigator, 'requestMIDIAccess', {
        configurable: true,
        value: () => Promise.resolve(access),
      });
    });
    await keys(page, 'p');
    await pressButton(page, 'controller');
    await seesText(page, 'listening');
    await pressButton(page, 'record');
    await page.waitForFunction(() =>
      document.querySelector('[role=timer]')!.textContent!.startsWith('1 · 3'),
    );
    await changing(page, () =>
      page.evaluate(() => {
        const { input } = window as unknown as { input: { onmidimessage: (e: object) => void } };
        input.onmidimessage({ data: Uint8Array.of(0x99, 38, 101), timeStamp: performance.now() });
      }),
    );
    await pressButton(page, 'stop recording');
    await page.focus('[role=grid]');
    await keys(page, 'Space', 'p');
    expect(await velocities(page, 'snare')).toEqual([101]);
    await page.evaluate(() =>
      Object.defineProperty(navigator, 'requestMIDIAccess', {
        configurable: true,
        value: undefined,
      }),
    );
    await keys(page, 'Alt+Shift+p');
    await seesText(page, 'This browser cannot listen to MIDI controllers');
  });
});

describe('with keys alone', () => {
  test('a four-bar beat with a flam and a roll is written', async () => {
    await keys(page, 'Shift+.', 'Shift+.', 'Shift+.');
    for (const [piece, at, key] of [
      ['hihat', 0, '6'],
      ['hihat', 2, '4'],
      ['snare', 4, '8'],
      ['kick', 0, '9'],
    ] as const) {
      await walkTo(piece, at);
      await keys(page, key);
    }
    await menu('f', 'a');
    await seesText(page, '4 hits selected');
    await menu('s', 'p');
    expect(await steps('snare')).toHaveLength(8);
    expect(await steps('hihat')).toHaveLength(16);

    await keys(page, 'Escape');
    await walkTo('snare', 4);
    await menu('o', 'f');
    await seesText(page, 'flam or drag');
    await keys(page, 'Enter');
    expect((await hitsOf(page, 'snare'))[0]).toContain('flam');

    await keys(page, 'Escape');
    await walkTo('snare', 60);
    await menu('o', 'r');
    await keys(page, 'Enter');
    await keys(page, '.');
    const roll = (await velocities(page, 'snare')).slice(-8);
    expect(roll).toEqual([...roll].sort((a, b) => a - b));
    expect([roll[0], roll[7]]).toEqual([44, 112]);
  });

  test('what a tool shows is one step of undo, or none when it is taken back', async () => {
    await beat();
    await walkTo('hihat', 0);
    await keys(page, 'r');
    const before = await velocities(page, 'hihat');
    await menu('d', 'r');
    await seesText(page, 'ramp');
    expect(await velocities(page, 'hihat')).not.toEqual(before);
    await keys(page, 'Escape');
    expect(await velocities(page, 'hihat')).toEqual(before);
    await menu('d', 'c');
    await keys(page, 'ArrowLeft', 'ArrowLeft', 'ArrowLeft', 'Enter');
    expect(await velocities(page, 'hihat')).not.toEqual(before);
    await changing(page, () => keys(page, 'Control+z'));
    expect(await velocities(page, 'hihat')).toEqual(before);
  });

  test('hits are found by description, and the line below says how many of what', async () => {
    await beat();
    await menu('f', 'd');
    await (await page.waitForSelector('[role=group] [role=combobox]'))!.focus();
    await keys(page, 'ArrowDown');
    await (await named(page, 'Hi-hat')).click();
    await seesText(page, '8 hits selected, hi-hat only');
    await pressButton(page, 'done');
    await menu('f', 'i');
    await seesText(page, /hits selected, 2 pieces: snare; kick/);
    await keys(page, 'Escape');
  });

  test('rows are muted, folded, hidden, moved and shown again', async () => {
    await walkTo('ride', 0);
    await menu('k', 'h');
    await seesText(page, '1 row hidden');
    await page.waitForSelector('[id^="cell-ride-"]', { hidden: true });
    await menu('k', 'a');
    await page.waitForSelector('[id^="cell-ride-"]');
    await keys(page, 'm');
    await page.waitForSelector('[aria-label="mute Ride"][aria-pressed=true]');
    await keys(page, 'm');
    const order = () =>
      page.$$eval('[role=row]', (rows) => rows.map((row) => row.getAttribute('aria-label')));
    await menu('k', 'u');
    await eventually(order, (rows) => expect(rows.slice(0, 2)).toEqual(['Ride', 'Crash']));
    await menu('k', 't');
    await eventually(order, (rows) => expect(rows.slice(0, 2)).toEqual(['Crash', 'Ride']));
  });
});

describe('with values that cannot be', () => {
  test('a number out of its range is refused beside its field, and nothing changes', async () => {
    await beat();
    await walkTo('hihat', 0);
    await keys(page, 'r');
    const untouched = await velocities(page, 'hihat');
    await menu('t', 'h');
    const before = await velocities(page, 'hihat');
    await typeInto('velocity strays by, number', '500');
    await seesText(page, '0 to 64');
    await keys(page, 'Enter');
    expect(await velocities(page, 'hihat')).toEqual(before);
    // What is in range is seen while it is typed, and Escape takes all of it back.
    await typeInto('velocity strays by, number', '40');
    await eventually(
      () => velocities(page, 'hihat'),
      (now) => expect(now).not.toEqual(before),
    );
    await keys(page, 'Escape');
    await eventually(
      () => velocities(page, 'hihat'),
      (now) => expect(now).toEqual(untouched),
    );
  });

  test('a command that cannot apply says why', async () => {
    await menu('b', 'w');
    await seesText(page, 'The pattern has no swing setting to write in');
    await walkTo('ride', 3);
    await menu('t', 'q');
    await seesText(page, 'Nothing is selected');
  });
});

describe('growing', () => {
  test('a pattern is doubled, its turn gets a change, and the next turn another one', async () => {
    await keys(page, '9', 'ArrowDown', 'ArrowDown');
    for (let i = 0; i < 8; i++) await keys(page, '6', 'ArrowRight', 'ArrowRight');
    await keys(page, 'g');
    await seesText(page, 'The turn: bar 2');
    const kind = await page.$eval('[aria-label^="take "]', (b) =>
      b.getAttribute('aria-label')!.slice(5),
    );
    await pressButton(page, `hear ${kind}`);
    await page.waitForSelector(`[aria-label="hear ${kind}"][aria-pressed=true]`);
    await pressButton(page, `take ${kind}`);
    await keys(page, 'Space');
    await pressButton(page, 'done');
    await page.focus('[role=grid]');
    await keys(page, 'g');
    await seesText(page, 'The turn: bar 4');
    expect(await page.$(`[aria-label="take ${kind}"]`)).toBeNull();
    await pressButton(page, 'done');
  });
});

describe('more ways to write', () => {
  test('a Ctrl stroke draws a straight line of hits, and over a selection ramps it', async () => {
    await page.keyboard.down('Control');
    await drag(page, [
      await stepPoint(page, 'snare', 0, 30),
      await stepPoint(page, 'snare', 7 * STEP, 120),
    ]);
    await page.keyboard.up('Control');
    const line = await velocities(page, 'snare');
    expect(line).toHaveLength(8);
    const rises = line.slice(1).map((velocity, i) => velocity - line[i]);
    expect(Math.max(...rises) - Math.min(...rises)).toBeLessThanOrEqual(4);
    await page.focus('[role=grid]');
    await keys(page, 'r');
    await page.keyboard.down('Control');
    const from = await stepPoint(page, 'snare', 0, 120);
    await drag(page, [{ ...from, x: from.x - 14 }, await stepPoint(page, 'snare', 7 * STEP, 30)]);
    await page.keyboard.up('Control');
    const down = await velocities(page, 'snare');
    expect(down).toEqual([...down].sort((a, b) => b - a));
    expect(down).toHaveLength(8);
  });

  test('a row loops at its own length, and its lane is drawn', async () => {
    for (let step = 0; step < 8; step++) {
      await press(page, await stepPoint(page, 'snare', step * STEP, 90));
    }
    await walkTo('snare', 0);
    await menu('k', 'l');
    await typeInto('steps of 16, number', '5');
    await keys(page, 'Enter');
    await seesText(page, 'heard in full after 5 times');
    await seesText(page, 'loops 5 steps');
    expect(await steps('snare')).toHaveLength(16);
    await menu('k', '2');
    await seesText(page, 'pan');
    const cell = (await (await page.$('#cell-snare-0'))!.boundingBox())!;
    const y = cell.y + cell.height;
    await drag(page, [
      { x: cell.x + 4, y: y + 10 },
      { x: cell.x + cell.width * 5, y: y + 66 },
    ]);
    await changing(page, () => keys(page, 'Control+z'));
    await changing(page, () => keys(page, 'Control+y'));
    await keys(page, 'Escape');
    await menu('k', '0');
    await menu('b', 'c');
    await seesText(page, /bars/);
    await page.waitForSelector('[role=grid][aria-colcount="81"]');
  });

  test('tablature that is pasted becomes a pattern, with a report of what was not understood', async () => {
    await page.evaluate(() => {
      const data = new DataTransfer();
      data.setData('text/plain', 'HH |x-x-x-x-|\nSD |--o---f-|\nQQ |x-------|');
      document.body.dispatchEvent(
        new ClipboardEvent('paste', { clipboardData: data, bubbles: true }),
      );
    });
    await seesText(page, '6 hits in 1 bar');
    await seesText(page, 'there is no kit piece “QQ”');
    await pressButton(page, 'make it a pattern');
    await page.waitForSelector('[role=grid][aria-label^="From tablature"]');
    expect((await hitsOf(page, 'snare')).map((label) => label.includes('flam'))).toEqual([
      false,
      true,
    ]);
    await menu('b', 'y');
    await seesText(page, '6 hits in 1 bar');
    const text = await page.$eval(
      '[aria-label=tablature]',
      (area) => (area as HTMLTextAreaElement).value,
    );
    expect(text).toContain('SD |--o---f-|');
    await keys(page, 'Escape');
  });

  test('time is zoomed by keys and by the wheel, around what is under the pointer', async () => {
    const width = () => page.$eval('#cell-kick-0', (cell) => cell.getBoundingClientRect().width);
    const before = await width();
    await keys(page, '=', '=');
    await eventually(width, (now) => expect(now).toBeGreaterThan(before * 1.4));
    await keys(page, 'z');
    await eventually(width, (now) => expect(now).toBeCloseTo(before, 0));
    const point = await stepPoint(page, 'snare', 8 * STEP);
    await page.mouse.move(point.x, point.y);
    await page.keyboard.down('Control');
    await page.mouse.wheel({ deltaY: -200 });
    await page.keyboard.up('Control');
    await eventually(width, (now) => expect(now).toBeGreaterThan(before * 1.5));
    await eventually(
      () => stepPoint(page, 'snare', 8 * STEP),
      (after) => expect(Math.abs(after.x - point.x)).toBeLessThan(before),
    );
  });
});
