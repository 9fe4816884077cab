import { applyCommand, exportMidi, importMidi, readTab, type Command } from '../src/core';
import { csvOfSong, tabOfSong } from '../src/core/deliver';
import { partsOfFile, readFamily } from '../src/core/library';
import { emptyPattern, emptySong, sectionOf, type Song } from '../src/core/model';
import { readMusicXml, writeMusicXml } from '../src/core/musicxml';
import { placeHits } from '../src/core/pattern';
import { copyPlaces, layForm, lengthen, readForm, timeline } from '../src/core/weave';
import { writeSongFile } from '../src/storage/songFile';
import { fileOf, type FileNote } from '../src/core/testing/arbitraries';
import { longSong } from './material';
import type { Figure } from './main';

/** Writers of files of a song. */
const WRITERS: Readonly<Record<string, (song: Song) => unknown>> = {
  MIDI: (song) => exportMidi(song, { layout: 'pieces' }),
  MusicXML: writeMusicXml,
  tablature: tabOfSong,
  'a table': csvOfSong,
  'a song file': (song) => writeSongFile(song),
};

/** A song of very many sections of a bar, each with a pattern of its own, and each played twice. */
function manySections(count: number): Song {
  const beat = placeHits(
    emptyPattern({ id: 'p', name: 'p' }),
    [0, 960, 1920].map((at) => ({
      piece: 'kick',
      hit: { id: `h${at}`, at, push: 0, velocity: 90, articulation: 'usual' },
    })),
  );
  const patterns = Array.from({ length: count }, (_, i) => ({
    ...beat,
    id: `p${i}`,
    name: `p ${i}`,
  }));
  const sections = patterns.map((pattern) =>
    sectionOf(pattern, { id: `s-${pattern.id}`, name: pattern.name, kind: 'part' }),
  );
  const places = [0, 1].flatMap((turn) =>
    sections.map(({ id }) => ({ id: `${turn}-${id}`, section: id, overlay: [] })),
  );
  return { ...emptySong('many', 'many', 'x'), patterns, sections, places };
}

const ids = ({ places }: Song) => places.map(({ id }) => id);
const middle = ({ places }: Song) => places[places.length >> 1].id;
const every = (song: Song, n: number) => ids(song).filter((_, i) => i % n === 0);

/** Commands that change how a song is built, each over all of it or at its middle. */
const COMMANDS: Readonly<Record<string, (song: Song) => Command>> = {
  'moving places': (song) => ({ type: 'move places', places: every(song, 2), to: 0 }),
  'removing places': (song) => ({ type: 'remove places', places: every(song, 3) }),
  'pasting places': (song) => ({
    ...{ type: 'paste places', copied: copyPlaces(song, every(song, 2)), index: 0 },
    ...{ linking: 'linked', newIds: every(song, 2).map((id) => `${id}-new`) },
  }),
  'marking places': (song) => ({ type: 'mark as meant', places: ids(song), meant: true }),
  unlinking: (song) => ({ type: 'unlink', place: middle(song) }),
  linking: (song) => ({
    ...{ type: 'link place', place: middle(song), section: song.sections.at(-1)!.id, keep: true },
  }),
  merging: (song) => ({ type: 'merge with next', place: middle(song) }),
  'a tempo': (song) => ({ type: 'set tempo at', place: middle(song), at: 0, bpm: 99 }),
  'removing a pattern': (song) => ({ type: 'remove pattern', id: song.patterns[0].id }),
  'joining patterns': (song) => ({
    ...{ type: 'join patterns', newId: 'joined', name: 'joined' },
    ids: song.patterns.slice(0, 60).map(({ id }) => id),
  }),
  'another layout': () => ({ type: 'choose layout', layout: 'notes' }),
};

/** Inputs that were chosen to cost much, of any size: what is read or written of them. */
const HOSTILE: Readonly<Record<string, (size: number) => () => unknown>> = {
  'blanks in tablature': (n) => {
    const text = `HH ${' '.repeat(60 * n)}x\nname:${' '.repeat(60 * n)}\n1${' e'.repeat(30 * n)} !`;
    return () => readTab(text, { id: 'x' });
  },
  'bar lines in tablature': (n) => {
    const text = `HH ${'|'.repeat(60 * n)}=${':'.repeat(60 * n)}`;
    return () => readTab(text, { id: 'x' });
  },
  'blanks in a family': (n) => {
    const text = `about:${' '.repeat(60 * n)}x${' '.repeat(60 * n)}\nbeats: 0.000001\nHH |x|`;
    return () => readFamily(text, 'x');
  },
  'notes without an end': (n) => {
    const notes = Array.from({ length: 12 * n }, (_, i) => note(i, 42, 1e6));
    const bytes = fileOf(notes, { ppq: 96 });
    return () => importMidi(bytes, 'x.mid');
  },
  'short sections': (n) => {
    const count = 2 * n;
    const markers = Array.from({ length: count }, (_, i) => ({ tick: i * 384, text: `m${i}` }));
    const notes = markers.map(({ tick }, i) => note(tick, 36 + (i % 30), 20));
    const bytes = fileOf(notes, { ppq: 96, markers });
    return () => importMidi(bytes, 'x.mid');
  },
  'chunks that are none': (n) => {
    const bytes = Uint8Array.from({ length: 700 * n }, (_, i) => [77, 84, 114, 106][i % 4]);
    bytes.set(fileOf([note(0, 36, 20)], { ppq: 96 }).subarray(0, 14));
    return () => importMidi(bytes, 'x.mid');
  },
  'library parts between markers': (n) => {
    const markers = Array.from({ length: n }, (_, i) => ({ tick: i * 384, text: `m${i}` }));
    const notes = markers.flatMap(({ tick }, i) =>
      [i % 7, i % 11, i % 13].map((at) => note(tick + 12 * at, 38, 20)),
    );
    const bytes = fileOf(notes, { ppq: 96, markers });
    return () => partsOfFile(bytes, 'x.mid', 'own/x');
  },
  'parts of a score': (n) => {
    const parts = Array.from({ length: n }, (_, i) => i);
    const heads = parts.map(
      (i) => `<score-part id="P${i}"><part-name>Drums</part-name></score-part>`,
    );
    const bar = `<note><unpitched><display-step>C</display-step><display-octave>5</display-octave></unpitched><duration>1</duration></note>`;
    const bodies = parts.map((i) => `<part id="P${i}"><measure number="1">${bar}</measure></part>`);
    const score = `<score-partwise><part-list>${heads.join('')}</part-list>${bodies.join('')}</score-partwise>`;
    return () => readMusicXml(score, 'x');
  },
  'names of a form': (n) => {
    const text = Array.from({ length: n / 2 }, (_, i) => `part ${i} 4 bars`).join('\n');
    const { song } = layForm(emptySong('x', 'x', 'p'), []);
    return () => layForm(song, readForm(text).parts);
  },
  'last bars over and over': (n) => {
    const song = longSong(2);
    const [{ id }] = song.sections;
    return () => lengthen(song, id, Math.round(n / 5), 'repeat');
  },
  ...Object.fromEntries(
    Object.entries(COMMANDS).map(([what, commandFor]) => [
      `${what} of very many`,
      (n: number) => {
        const song = manySections(n / 4);
        const command = commandFor(song);
        return () => applyCommand(song, command);
      },
    ]),
  ),
  ...Object.fromEntries(
    Object.entries(WRITERS).map(([what, write]) => [
      `a long song as ${what}`,
      (n: number) => {
        const song = longSong(Math.round(n / 64));
        return () => write(song);
      },
    ]),
  ),
};

function note(tick: number, pitch: number, duration: number): FileNote {
  return { tick, note: pitch, velocity: 90, duration, channel: 9 };
}

const SIZE = 2000;
const ROUNDS = 25;
/** The longest that one input is measured for, in ms: slow ones are measured fewer times. */
const ENOUGH = 3000;
const LEAST_ROUNDS = 3;

/** The least times of several, which take turns: a machine that is slow for a while is so for all. */
function least(...runs: (() => unknown)[]): number[] {
  const best = runs.map(() => Infinity);
  const began = performance.now();
  for (let round = 0; round < ROUNDS; round++) {
    if (round >= LEAST_ROUNDS && performance.now() - began > ENOUGH) break;
    runs.forEach((run, i) => {
      const start = performance.now();
      run();
      best[i] = Math.min(best[i], performance.now() - start);
    });
  }
  return best;
}

/** What input of twice the size costs, over the cost of the size: the worst of all kinds. */
function doubling(): Figure {
  const costs = Object.entries(HOSTILE).map(([what, ofSize]) => {
    const [once, twice] = least(ofSize(SIZE), ofSize(2 * SIZE));
    // Where all of it takes less than a clock can tell apart, there is nothing to compare.
    return { what, once, twice, ratio: twice < 0.5 ? 1 : twice / once };
  });
  const worst = costs.reduce((a, b) => (b.ratio > a.ratio ? b : a));
  return {
    name: 'hostile.doubled',
    ratio: worst.ratio,
    bound: 2.5,
    detail: `the worst of ${costs.length}: ${worst.what}, ${worst.once.toFixed(1)} ms, of twice the size ${worst.twice.toFixed(1)} ms`,
  };
}

/** Writing a file, over a loop that does nothing but put the same bytes into an array. */
function exporting(): Figure {
  const song = longSong(120);
  timeline(song);
  const bytes = exportMidi(song);
  const [written, bare] = least(
    () => exportMidi(song),
    () => {
      const into: number[] = [];
      for (const byte of bytes) into.push(byte);
      return Uint8Array.from(into);
    },
  );
  return {
    name: 'midi.export',
    ratio: written / bare,
    bound: 3,
    detail: `60,000 hits ${written.toFixed(1)} ms, the ${bytes.length.toLocaleString('en')} bytes by a loop ${bare.toFixed(1)} ms`,
  };
}

export const linearFigures = (): Figure[] => [exporting(), doubling()];
