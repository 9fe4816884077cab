import fc from 'fast-check';
import { unzipSync, zipSync } from 'fflate';
import { DEFAULT_KIT, type Kit, type SampleLayer } from '@/core/model';
import { hashOfSound } from '@/core/sound';
import { demoSongs } from '@/demo';
import type { StoredSample } from './db';
import { readKitFile, writeKitFile } from './kitFile';
import { readSongFile, readSongSounds, writeSongFile } from './songFile';

const nothingHere = async () => new Set<string>();

/** A sound, and a kit whose snare plays it as a layer. */
async function kitWith(left: Float32Array, right?: Float32Array) {
  const hash = await hashOfSound({ left, right });
  const sound: StoredSample = { hash, name: 'shed door.wav', left, ...(right && { right }) };
  return { sound, kit: playing(hash) };
}

function playing(hash: string): Kit {
  const layer: SampleLayer = {
    id: 'l',
    from: 'files',
    name: 'shed door.wav',
    level: 1,
    tune: 0,
    velocities: [1, 127],
    files: [{ hash, name: 'shed door.wav', velocities: [1, 127] }],
    start: 0,
    fadeIn: 0,
    fadeOut: 0,
  };
  const pieces = DEFAULT_KIT.pieces.map((piece) =>
    piece.id === 'snare' ? { ...piece, design: { layers: [layer] } } : piece,
  );
  return { ...DEFAULT_KIT, name: 'shed', pieces };
}

const anySide = fc
  .array(fc.float({ min: -1, max: 1, noNaN: true }), { minLength: 1, maxLength: 300 })
  .map((values) => Float32Array.from(values));

test('a kit that is saved and opened is the same kit with the very same samples', async () => {
  await fc.assert(
    fc.asyncProperty(anySide, fc.boolean(), async (left, stereo) => {
      const { sound, kit } = await kitWith(left, stereo ? left.map((x) => -x) : undefined);
      const read = await readKitFile(writeKitFile(kit, [sound]), 'shed', nothingHere);
      expect(read).toEqual({ kit, sounds: [sound], problems: [] });
    }),
  );
});

test('a song goes out with its sounds and comes back as the same song', async () => {
  const { sound, kit } = await kitWith(Float32Array.of(0.5, -0.25, 0.125));
  const song = { ...JSON.parse(JSON.stringify(demoSongs()[0])), kit };
  const opened = readSongFile(writeSongFile(song, { sounds: [sound] }), 'x');
  if (!opened || 'problem' in opened) throw new Error('not opened');
  const read = await readSongSounds(opened, nothingHere);
  expect(read).toEqual({ sounds: [sound], problems: [] });
  // What is here already is not read again.
  const again = await readSongSounds(opened, async (hashes) => new Set(hashes));
  expect(again.sounds).toEqual([]);
});

test('a sound whose bytes are not what its file is called by is refused by name', async () => {
  const { sound, kit } = await kitWith(Float32Array.of(0.5, -0.25));
  const parts = unzipSync(writeKitFile(kit, [sound]));
  const wav = parts[`sounds/${sound.hash}.wav`];
  wav[wav.length - 2] ^= 1;
  const read = await readKitFile(zipSync(parts), 'shed', nothingHere);
  expect(read).toMatchObject({
    kit,
    sounds: [],
    problems: [expect.stringMatching(/“shed door.wav” was changed on its way/)],
  });
});

test('of a file that is cut off anywhere what is whole is opened, and that it is cut is told', async () => {
  const { sound, kit } = await kitWith(Float32Array.from({ length: 4000 }, (_, i) => Math.sin(i)));
  const whole = writeKitFile(kit, [sound]);
  let opened = 0;
  for (let length = 0; length < whole.length; length += 400) {
    const read = await readKitFile(whole.slice(0, length), 'shed', nothingHere);
    if (typeof read === 'string') expect(read).toMatch(/cut off|cannot be unpacked/);
    else {
      opened++;
      expect(read.kit).toEqual(kit);
      expect(read.problems[0]).toMatch(/“shed” is cut off/);
      expect(read.sounds.length + read.problems.length).toBe(2);
    }
  }
  expect(opened).toBeGreaterThan(10);
});

test('a missing or spoilt sound is told, and the kit is opened all the same', async () => {
  const { sound, kit } = await kitWith(Float32Array.of(0.5));
  const missing = await readKitFile(writeKitFile(kit, []), 'shed', nothingHere);
  expect(missing).toMatchObject({ kit, sounds: [], problems: [expect.stringMatching(/missing/)] });
  const parts = unzipSync(writeKitFile(kit, [sound]));
  parts[`sounds/${sound.hash}.wav`] = Uint8Array.of(1, 2, 3);
  const spoilt = await readKitFile(zipSync(parts), 'shed', nothingHere);
  expect(spoilt).toMatchObject({
    problems: [expect.stringMatching(/“shed door.wav” cannot be read/)],
  });
});

test('what is no kit is refused in a sentence, and foreign parts are never looked at', async () => {
  const said = (bytes: Uint8Array) => readKitFile(bytes, 'gift.zip', nothingHere);
  const { sound, kit } = await kitWith(Float32Array.of(0.5));
  const whole = writeKitFile(kit, [sound]);
  expect(await said(whole.slice(0, 60))).toMatch(/cannot be unpacked/);
  expect(await said(zipSync({ 'a.mid': Uint8Array.of(1) }))).toMatch(/holds no kit/);
  expect(await said(zipSync({ 'kit.json': Uint8Array.of(123) }))).toMatch(/cannot be played/);
  const parts = unzipSync(whole);
  const more = { ...parts, '../../evil.json': Uint8Array.of(1), '/sounds/x.wav': Uint8Array.of(1) };
  expect(await said(zipSync(more))).toMatchObject({ kit, problems: [] });
});

test('whatever the bytes are, reading them gives a kit or a sentence', async () => {
  const { sound, kit } = await kitWith(Float32Array.of(0.5));
  const whole = writeKitFile(kit, [sound]);
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { minLength: 1, maxLength: 20 }),
      async (flips) => {
        const bytes = whole.slice();
        for (const [at, value] of flips) bytes[at] = value;
        const read = await readKitFile(bytes, 'x', nothingHere);
        if (typeof read === 'string') expect(read).toMatch(/\.$/);
        else expect(read.kit.pieces.length).toBeGreaterThan(0);
      },
    ),
  );
});
