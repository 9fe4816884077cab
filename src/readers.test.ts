import 'fake-indexeddb/auto';
import fc from 'fast-check';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { plannedFiles, USUAL_DELIVERY } from '@/core/deliver';
import { readSoundFont } from '@/core/fonts';
import {
  exportMidi,
  importMidi,
  NOTE_MAP_FORMS,
  readNoteMap,
  writeNoteMap,
  type Imported,
} from '@/core/midi';
import { importMusicXml, writeMusicXml } from '@/core/musicxml';
import { checkSong, DEFAULT_KIT, READY_MAPS, salvage, songWith, type Song } from '@/core/model';
import { readTab, writeTab } from '@/core/tab';
import { fontBytes, fontOf } from '@/core/testing/font';
import { mutated, mutatedText } from '@/core/testing/mutated';
import { anyWholeSong } from '@/core/testing/songs';
import { formOf, layForm, readForm, writeForm } from '@/core/weave';
import { takeKit } from '@/core/tracks';
import { demoSongs } from '@/demo';
import { restoreBackup, writeBackup } from '@/storage/backup';
import { LoomDb } from '@/storage/db';
import { readDelivery } from '@/storage/deliveries';
import { readKitFile, writeKitFile } from '@/storage/kitFile';
import { readSongFile, writeSongFile } from '@/storage/songFile';
import { loadSong, saveSong } from '@/storage/songs';
import { pcmOf, soundParts } from '@/storage/soundParts';

/**
 * Every reader, over files of its format that are damaged, made up, or mean something else by it: it never throws, it
 * refuses in a sentence, and a song that it gives is sound and is stored as what was read.
 */

const [demo] = demoSongs();
const sound = (song: Song | string) => (typeof song === 'string' ? demo : song);

/** The songs that a reader found, and its sentences. */
interface Read {
  songs: Song[];
  says: readonly string[];
}

const imported = ({ song, report }: Imported): Read => ({
  songs: song ? [song] : [],
  says: song ? [...report.repaired, ...report.leftOut] : [report.error ?? ''],
});

const bytesOf = (text: string) => new TextEncoder().encode(text);

/** Zips whose parts of text are other texts; some are damaged as files. */
const mutatedZip = (zips: fc.Arbitrary<Uint8Array>): fc.Arbitrary<Uint8Array> =>
  fc.oneof(
    { weight: 1, arbitrary: mutated(zips) },
    {
      weight: 4,
      arbitrary: zips.chain((zip) => {
        const parts = unzipSync(zip);
        const texts = Object.keys(parts).filter((name) => name.endsWith('.json'));
        const others = texts.map((name) =>
          mutatedText(fc.constant(strFromU8(parts[name]).replaceAll(',"', ',\n"'))),
        );
        return fc.tuple(...others).map((mutant) =>
          zipSync({
            ...parts,
            ...Object.fromEntries(texts.map((name, i) => [name, strToU8(mutant[i])])),
          }),
        );
      }),
    },
  );

let count = 0;

/** Each format: files of it, and what its reader makes of one. */
const READERS: Readonly<
  Record<string, [fc.Arbitrary<Uint8Array>, (bytes: Uint8Array) => Read | Promise<Read>]>
> = {
  'MIDI files': [
    mutated(anyWholeSong.map((song) => exportMidi(song))),
    (bytes) => imported(importMidi(bytes, 'x.mid', { repeats: 'cut', notes: 'guess' })),
  ],
  MusicXML: [
    mutatedText(anyWholeSong.map(writeMusicXml)).map(bytesOf),
    (bytes) => imported(importMusicXml(bytes, 'x.musicxml')),
  ],
  'packed MusicXML': [
    mutated(anyWholeSong.map((song) => zipSync({ 'x.musicxml': bytesOf(writeMusicXml(song)) }))),
    (bytes) => imported(importMusicXml(bytes, 'x.mxl')),
  ],
  'song files': [
    mutatedZip(anyWholeSong.map((song) => writeSongFile(song))),
    (bytes) => {
      const read = readSongFile(bytes, 'x');
      if (!read) return { songs: [], says: [] };
      return 'problem' in read
        ? { songs: [], says: [read.problem] }
        : { songs: [read.song], says: read.lost.map(({ what }) => what) };
    },
  ],
  'kit files': [
    mutatedZip(anyWholeSong.map(({ kit }) => writeKitFile(kit, []))),
    async (bytes) => {
      const read = await readKitFile(bytes, 'x', async () => new Set());
      if (typeof read === 'string') return { songs: [], says: [read] };
      return { songs: [sound(takeKit(demo, read.kit))], says: read.problems };
    },
  ],
  'note maps': [
    mutatedText(
      fc
        .tuple(fc.constantFrom(...READY_MAPS), fc.constantFrom(...NOTE_MAP_FORMS))
        .map(([map, form]) => writeNoteMap(map, DEFAULT_KIT, form)),
    ).map(bytesOf),
    (bytes) => {
      const read = readNoteMap(strFromU8(bytes), 'x.txt', DEFAULT_KIT);
      return typeof read === 'string'
        ? { songs: [], says: [read] }
        : { songs: [{ ...demo, noteMap: read.map }], says: [] };
    },
  ],
  tablature: [
    mutatedText(anyWholeSong.map(({ patterns }) => writeTab(patterns[0]).text)).map(bytesOf),
    (bytes) => {
      const { pattern, report } = readTab(strFromU8(bytes), { id: 'tab' });
      const head = { id: 'x', name: 'x', bpm: 120 };
      return { songs: pattern ? [songWith(head, [pattern])] : [], says: report };
    },
  ],
  forms: [
    mutatedText(anyWholeSong.map((song) => writeForm(formOf(song)))).map(bytesOf),
    (bytes) => {
      const { parts, problems } = readForm(strFromU8(bytes));
      return { songs: [layForm(demo, parts).song], says: problems.map(({ what }) => what) };
    },
  ],
  deliveries: [
    mutatedText(fc.constant(JSON.stringify(USUAL_DELIVERY, null, 1))).map(bytesOf),
    (bytes) => {
      let value: unknown;
      try {
        value = JSON.parse(strFromU8(bytes));
      } catch {
        return { songs: [], says: [] };
      }
      const delivery = readDelivery(value);
      if (delivery) plannedFiles(demo, delivery);
      return { songs: [], says: [] };
    },
  ],
  SoundFonts: [
    mutated(
      fc.constant(
        fontOf(
          [{ data: [9000, -9000, 40] }, { data: [1, 2, 3, 4], type: 4 }],
          [
            { key: [36, 40], sample: 0 },
            { sample: 1, velocity: [1, 90] },
          ],
        ),
      ),
    ),
    async (bytes) => {
      const read = await readSoundFont(fontBytes(bytes), [36, 38, 60], 48_000);
      return { songs: [], says: typeof read === 'string' ? [read] : [] };
    },
  ],
  'WAV files': [
    mutated(
      fc.constant(
        Object.values(
          soundParts([{ hash: 'ab', name: 'x', left: Float32Array.of(0.5, -0.5, 0.25) }]),
        ).flatMap((part) => (Array.isArray(part) ? [part[0] as Uint8Array] : []))[0],
      ),
    ),
    (bytes) => {
      const pcm = pcmOf(bytes);
      for (const side of [pcm?.left, pcm?.right])
        expect(side?.some((x) => !Number.isFinite(x)) ?? false).toBe(false);
      return { songs: [], says: [] };
    },
  ],
};

test.each(Object.entries(READERS))(
  '%s are read or refused in a sentence, and a song of them is sound and stored as it was read',
  async (_, [files, read]) => {
    await fc.assert(
      fc.asyncProperty(files, async (bytes) => {
        const { songs, says } = await read(bytes);
        for (const song of songs) {
          expect(checkSong(song)).toEqual([]);
          const stored = salvage(JSON.parse(JSON.stringify(song)));
          expect(stored.problems).toEqual([]);
          expect(JSON.parse(JSON.stringify(stored.song))).toEqual(JSON.parse(JSON.stringify(song)));
        }
        for (const sentence of says) expect(sentence).toMatch(/\S/);
      }),
    );
  },
);

test('backups, whatever is in them, are read or refused, and their songs open without a loss', async () => {
  const here = new LoomDb('backup');
  for (const song of demoSongs()) await saveSong(song, undefined, here);
  const whole = await writeBackup(here);
  await here.delete();
  await fc.assert(
    fc.asyncProperty(mutatedZip(fc.constant(whole)), async (bytes) => {
      const at = new LoomDb(`restored ${++count}`);
      const restored = await restoreBackup(bytes, 'x', at);
      if (restored && 'problem' in restored) expect(restored.problem).toMatch(/\.$/);
      for (const id of await at.bodies.toCollection().primaryKeys()) {
        const read = await loadSong(id, at);
        expect('problem' in read ? read.problem : read.lost).toEqual([]);
      }
      await at.delete();
    }),
  );
});
