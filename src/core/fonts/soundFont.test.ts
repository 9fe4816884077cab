import { chunk, fontOf, latin, long, type Zone } from '../testing/font';
import { fontBytes } from '../testing/font';
import { readSoundFont } from './soundFont';

const RATE = 48_000;

const kitsOf = async (bytes: Uint8Array, notes: number[]) => {
  const read = await readSoundFont(fontBytes(bytes), notes, RATE);
  if (typeof read === 'string') throw new Error(read);
  return read.kits;
};

const SNARE = [16384, -16384, 8192, 4096];
const KICK = [32767, 0, -32768, 0];

test('each note has the sounds of its zones, by velocity, as they were recorded', async () => {
  const bytes = fontOf(
    [
      { data: SNARE, pitch: 38 },
      { data: KICK, pitch: 38 },
    ],
    [
      { key: [38, 38], velocity: [0, 63], sample: 0 },
      { key: [38, 38], velocity: [64, 127], sample: 1 },
    ],
  );
  const [{ name, sounds }, ...others] = await kitsOf(bytes, [36, 38]);
  expect(others).toEqual([]);
  expect(name).toBe('Shed kit');
  expect(sounds.map(({ note, velocities }) => [note, ...velocities])).toEqual([
    [38, 1, 63],
    [38, 64, 127],
  ]);
  expect([...sounds[0].pcm.left]).toEqual([0.5, -0.5, 0.25, 0.125]);
});

test('two sides that are linked are one sound, and tuning, rate and attenuation are heard', async () => {
  const tone = Array.from({ length: 4000 }, (_, i) => Math.round(16000 * Math.sin(i / 10)));
  const sides = fontOf(
    [
      { data: tone, type: 4, pitch: 38 },
      { data: tone.map((x) => -x), type: 2, pitch: 38 },
    ],
    [
      { key: [38, 38], sample: 0 },
      { key: [38, 38], sample: 1 },
    ],
  );
  const [{ sounds }] = await kitsOf(sides, [38]);
  expect(sounds).toHaveLength(1);
  expect(sounds[0].pcm.right?.map((x) => -x || 0)).toEqual(sounds[0].pcm.left.map((x) => x || 0));
  const length = async (zone: Partial<Zone>, sample = {}) => {
    const bytes = fontOf(
      [{ data: tone, pitch: 38, ...sample }],
      [{ key: [38, 38], sample: 0, ...zone }],
    );
    return (await kitsOf(bytes, [38]))[0].sounds[0].pcm.left;
  };
  expect((await length({})).length).toBe(4000);
  expect((await length({ more: [[51, 12]] })).length).toBe(2000);
  expect((await length({ more: [[58, 26]] })).length).toBe(2000);
  expect((await length({}, { rate: 24_000 })).length).toBe(8000);
  const peak = (samples: Float32Array) => samples.reduce((a, b) => Math.max(a, Math.abs(b)), 0);
  // 60 centibels are 6 dB.
  expect(peak(await length({})) / peak(await length({ more: [[48, 60]] }))).toBeCloseTo(
    10 ** (6 / 20),
    3,
  );
});

test('what a zone says for all others holds where they say nothing else, and ranges of the preset too', async () => {
  const bytes = fontOf(
    [{ data: SNARE, pitch: 38 }],
    [
      { more: [[48, 60]] },
      { key: [38, 38], sample: 0 },
      {
        key: [40, 40],
        sample: 0,
        more: [
          [48, 0],
          [58, 40],
        ],
      },
    ],
  );
  const [{ sounds }] = await kitsOf(bytes, [38, 40]);
  const [quiet, plain] = sounds.map(({ pcm }) => pcm.left[0]);
  expect(plain).toBe(0.5);
  expect(quiet).toBeCloseTo(0.5 * 10 ** (-6 / 20), 5);
});

test('indices count to 65,535, and of a large bank only what is struck is read', async () => {
  const many = Array.from({ length: 33_000 }, () => ({ data: [] as number[] }));
  many[32_900].data = SNARE;
  many[5].data = new Array<number>(200_000).fill(7);
  const bytes = fontOf(many, [{ key: [38, 38], sample: 32_900, more: [[58, 38]] }]);
  let most = 0;
  const watched = {
    ...fontBytes(bytes),
    read: async (from: number, to: number) => {
      most = Math.max(most, to - from);
      return bytes.subarray(from, to);
    },
  };
  const read = await readSoundFont(watched, [36, 38], RATE);
  if (typeof read === 'string') throw new Error(read);
  expect(read.name).toBe('Shed');
  expect([...read.kits[0].sounds[0].pcm.left]).toEqual([0.5, -0.5, 0.25, 0.125]);
  // The largest table is the one of samples: 46 bytes each.
  expect(most).toBe(46 * 33_001);
});

test('a file without drums, cut off, or not one at all is refused in words', async () => {
  const bytes = fontOf([{ data: SNARE }], [{ sample: 0 }], 0);
  expect(await readSoundFont(fontBytes(bytes), [38], RATE)).toMatch(/no drum kit/);
  const whole = fontOf([{ data: SNARE }], [{ sample: 0 }]);
  expect(await readSoundFont(fontBytes(whole.slice(0, whole.length / 2)), [38], RATE)).toMatch(
    /cut off/,
  );
  expect(await readSoundFont(fontBytes(Uint8Array.of(1, 2, 3)), [38], RATE)).toMatch(
    /no SoundFont/,
  );
});

describe('a file that is made to take time or memory', () => {
  const whole = fontOf([{ data: SNARE }], [{ sample: 0 }]);
  const text = Buffer.from(whole).toString('latin1');
  /** The file with another number in a row of a table. */
  const withNumber = (id: string, at: number, value: number, bits: 16 | 32 = 32) => {
    const spoilt = whole.slice();
    const view = new DataView(spoilt.buffer);
    const place = text.indexOf(id) + at;
    if (bits === 32) view.setUint32(place, value, true);
    else view.setUint16(place, value, true);
    return spoilt;
  };
  const refused = async (bytes: Uint8Array) =>
    expect(await readSoundFont(fontBytes(bytes), [38], RATE)).toMatch(/cut off or damaged/);

  test('states tables that are larger than it is', async () => {
    for (const id of ['phdr', 'pbag', 'pmod', 'pgen', 'inst', 'ibag', 'imod', 'igen', 'shdr']) {
      await refused(withNumber(id, 4, 4_000_000_000));
      await refused(withNumber(id, 4, 400_000_000));
    }
  });

  test('has rows that lead beyond the next table, or back', async () => {
    await refused(withNumber('ibag', 8, 60_000, 16));
    await refused(withNumber('pbag', 10, 60_000, 16));
    await refused(withNumber('ibag', 12, 0xffff, 16));
  });

  test('holds lists within lists', async () => {
    const lists = Array.from({ length: 40 }, () => chunk('LIST', latin('INFO', 4))).flat();
    await refused(
      Uint8Array.from([
        ...latin('RIFF', 4),
        ...long(lists.length + 4),
        ...latin('sfbk', 4),
        ...lists,
      ]),
    );
  });

  test('is the same samples again and again', async () => {
    const data = new Array<number>(400).fill(900);
    const many = fontOf(
      Array.from({ length: 40 }, () => ({ data: [] as number[] })).concat({ data }),
      [{ sample: 40 }],
    );
    const rows = Buffer.from(many).toString('latin1').indexOf('shdr') + 8;
    const view = new DataView(many.buffer);
    for (let i = 0; i < 41; i++) {
      view.setUint32(rows + 46 * i + 20, 0, true);
      view.setUint32(rows + 46 * i + 24, 2000, true);
    }
    await refused(many);
  });

  test('has more layers than a drum has, or strokes far longer than it is: those are left out and counted', async () => {
    const data = new Array<number>(300).fill(900);
    const layers = Array.from({ length: 300 }, () => ({
      key: [38, 38] as [number, number],
      sample: 0,
    }));
    const read = await readSoundFont(fontBytes(fontOf([{ data }], layers)), [38], RATE);
    expect(read).toMatchObject({ left: 44 });
    // Each note is a further stroke, up to sixteen times as long as what it is made of.
    const long = new Array<number>(20_000).fill(900);
    const slow = fontOf([{ data: long, pitch: 96 }], [{ sample: 0 }]);
    const notes = Array.from({ length: 48 }, (_, i) => 48 + i);
    const strokes = await readSoundFont(fontBytes(slow), notes, RATE);
    if (typeof strokes === 'string') throw new Error(strokes);
    const [{ sounds }] = strokes.kits;
    expect(strokes.left).toBe(48 - sounds.length);
    expect(strokes.left).toBeGreaterThan(0);
    const made = sounds.reduce((sum, { pcm }) => sum + pcm.left.length, 0);
    expect(made).toBeLessThan(60 * RATE + 8 * slow.length);
  });
});
