import fc from 'fast-check';
import type { Song } from '@/core';
import { readFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import Ajv from 'ajv';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { checkSong } from '@/core/model';
import { anySong } from '@/core/testing/arbitraries';
import { demoSongs } from '@/demo';
import type { SavePoint } from './db';
import {
  looksLikeZip,
  readSongFile,
  readSongPoints,
  writeSongFile,
  type SongInFile,
} from './songFile';

const demo = JSON.parse(JSON.stringify(demoSongs()[0])) as Song;
const json = (value: unknown) => strToU8(JSON.stringify(value));
const zip = (parts: Record<string, Uint8Array>) => zipSync(parts);
const problem = (bytes: Uint8Array) => {
  const read = readSongFile(bytes, 'gift.loom.zip');
  return read && 'problem' in read ? read.problem : undefined;
};

test('a song that is saved and opened is the same song, shown in the same way', () => {
  fc.assert(
    fc.property(anySong, (song) => {
      const view = { [song.patterns[0].id]: { hidden: ['crash'] } };
      const bytes = writeSongFile(song, { view });
      expect(looksLikeZip(bytes)).toBe(true);
      expect(readSongFile(bytes, 'x')).toEqual(
        JSON.parse(JSON.stringify({ song, view, lost: [] })),
      );
    }),
  );
  expect(writeSongFile(demo)).toEqual(writeSongFile(structuredClone(demo)));
});

test('every song is what the schema in its file says, and the schema is that of the types', () => {
  const parts = unzipSync(writeSongFile(demo));
  const schema = JSON.parse(strFromU8(parts['song.schema.json'])) as object;
  const isSong = new Ajv({ allErrors: true }).compile(schema);
  fc.assert(
    fc.property(anySong, (song) => {
      isSong(JSON.parse(JSON.stringify(song)));
      expect(isSong.errors ?? []).toEqual([]);
    }),
  );
  for (const song of demoSongs()) expect(isSong(JSON.parse(JSON.stringify(song)))).toBe(true);
  expect(isSong({ ...demo, patterns: [{ ...demo.patterns[0], length: 'long' }] })).toBe(false);
  const check = spawnSync('node', ['scripts/schema.mjs', '--check'], { encoding: 'utf8' });
  expect(check.stderr.replace(/^npm .*$/gm, '')).toBe('');
});

test.each([1, 2, 3])('songs of form %p are opened as they were', (form) => {
  const song = JSON.parse(readFileSync(`src/storage/fixtures/song-${form}.json`, 'utf8'));
  for (const bytes of [json(song), zip({ 'song.json': json(song) })]) {
    expect(readSongFile(bytes, 'old')).toMatchObject({ lost: [], song: { format: 4 } });
  }
});

test('what is damaged is left out and told, and a newer form is refused in a sentence', () => {
  const torn = structuredClone(demo) as unknown as { patterns: { length: unknown }[] };
  torn.patterns[0].length = 1e12;
  const read = readSongFile(zip({ 'song.json': json(torn) }), 'torn');
  if (!read || 'problem' in read) throw new Error('not opened');
  expect(read.lost.length).toBeGreaterThan(0);
  expect(checkSong(read.song)).toEqual([]);
  expect(problem(zip({ 'song.json': json({ ...demo, format: 9 }) }))).toMatch(
    /“gift\.loom\.zip”.*newer Verse Loom \(form 9/,
  );
});

test('a zip without a song is none, and one that is cut or no zip is told', () => {
  expect(readSongFile(zip({ 'a.mid': json(1) }), 'grooves.zip')).toBeUndefined();
  const whole = writeSongFile(demo);
  expect(problem(whole.slice(0, 200))).toMatch(/damaged/);
  // Of one that is cut behind its song, the song is opened.
  expect(readSongFile(whole.slice(0, -100), 'cut')).toMatchObject({ song: demo, isCut: true });
  expect(problem(strToU8('Dear drummer'))).toMatch(/cannot be read/);
  expect(problem(zip({ 'song.json': strToU8('{') }))).toMatch(/cannot be read/);
});

test('what is not about the rows of patterns is no view', () => {
  const song = json(demo);
  for (const about of [7, null, { view: 3 }, { view: { p: { hidden: [1, null] } } }]) {
    const read = readSongFile(zip({ 'song.json': song, 'about.json': json(about) }), 'x');
    expect(read).toMatchObject({ song: demo });
    const { view = {} } = read as { view?: object };
    expect(JSON.stringify(view)).not.toMatch(/1|null|3/);
  }
});

test('whatever the bytes are, reading them gives a sound song or a sentence', () => {
  const whole = writeSongFile(demo);
  const spoilt = fc
    .array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { minLength: 1, maxLength: 20 })
    .map((flips) => {
      const bytes = whole.slice();
      for (const [at, value] of flips) bytes[at] = value;
      return bytes;
    });
  fc.assert(
    fc.property(fc.oneof(spoilt, fc.uint8Array({ maxLength: 300 })), (bytes) => {
      const read = readSongFile(bytes, 'x');
      if (read && 'song' in read) expect(checkSong(read.song)).toEqual([]);
      else if (read) expect(read.problem).toMatch(/\.$/);
    }),
  );
});

test('save points go along, and one that is damaged is left out and told of', () => {
  const point = (id: string): SavePoint => ({
    ...{ id, song: demo.id, name: `point ${id}`, note: '', why: 'by hand', made: 1e12 },
    body: demo,
  });
  const file = writeSongFile(demo, { points: [point('a'), point('b')] });
  const read = (bytes: Uint8Array) => readSongPoints(readSongFile(bytes, 'x') as SongInFile);
  expect(read(file)).toEqual({ points: [point('a'), point('b')], problems: [] });
  const parts = unzipSync(file);
  const torn = zip({ ...parts, 'points/b.json': parts['points/b.json'].slice(0, 500) });
  expect(read(torn).points.map(({ id }) => id)).toEqual(['a']);
  expect(read(torn).problems.join()).toMatch(/A save point could not be read/);
});
