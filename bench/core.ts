import { parseMidi } from 'midi-file';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { applyCommand, importMidi, timeline, type Command, type Song } from '../src/core';
import { advance, newHistory } from '../src/core/commands';
import {
  BLOCK,
  compileDesk,
  compileLoop,
  compileScore,
  Engine,
  notesIn,
  soundsFor,
  type Cued,
} from '../src/core/engine';
import { DEFAULT_KIT, emptyPattern, sectionOf, songWith } from '../src/core/model';
import { placeHits } from '../src/core/pattern';
import { buffersOf } from '../src/core/sound';
import { cloth, clothByFamily } from '../src/core/weave';
import { readSong } from '../src/storage/songRecord';
import { fileOf } from '../src/core/testing/arbitraries';
import { seeded } from '../src/core/random';
import { fullyMixed, longSong } from './material';
import type { Figure } from './main';
import { ratioOf, timed } from './pairs';

const ms = (value: number) => `${value.toFixed(2)} ms`;

export function coreFigures(): Figure[] {
  return [midiImport(), ...timelines(), opening(), liveEdit(), live(), ...kits(), undoMemory()];
}

function midiImport(): Figure {
  const random = seeded(3);
  const notes = Array.from({ length: 16_000 }, (_, i) => ({
    tick: i * 120 + Math.floor(random() * 20),
    note: 35 + Math.floor(random() * 24),
    velocity: 1 + Math.floor(random() * 126),
    duration: 30,
    channel: 9,
  }));
  const bytes = fileOf(notes, { ppq: 480, meter: { beats: 4, unit: 4 } });
  const [parse, read] = timed(
    24,
    { run: () => parseMidi(bytes) },
    { run: () => importMidi(bytes, 'bench.mid') },
  );
  return {
    name: 'midi.import',
    ...ratioOf([read, parse], (a, b) => a / b),
    // Of this, 3 is reading, and the rest finding the step of each note in the beat it was played in.
    bound: 8,
    detail: `importMidi ${ms(read.median)}, bare midi-file ${ms(parse.median)}, 16,000 hits`,
  };
}

function timelines(): Figure[] {
  const song = longSong();
  const plain = song.patterns.flatMap((pattern, i) =>
    pattern.strands.flatMap(({ piece, hits }) =>
      hits.map((hit) => ({ ...hit, piece, tick: i * 30_720 + hit.at + hit.push })),
    ),
  );
  let current = song;
  timeline(current);
  let placed = 0;
  const placeOne = (): Command => {
    const round = placed++;
    const hit = { id: `n${round}`, at: (round % 128) * 240, push: 0, velocity: 90 };
    return {
      type: 'place hits',
      pattern: `p${round % 50}`,
      hits: [{ piece: 'cowbell', hit: { ...hit, articulation: 'struck' } }],
    };
  };
  const [sorted, whole, edited] = timed(
    8,
    { run: () => plain.map((hit) => ({ ...hit })).sort((a, b) => a.tick - b.tick) },
    // A clone has been computed nowhere yet, so nothing can be taken from an earlier time.
    { prepare: () => structuredClone(song), run: (clone) => timeline(clone as Song) },
    {
      prepare: placeOne,
      run: (command) => {
        current = applyCommand(current, command as Command);
        return timeline(current);
      },
    },
  );
  return [
    {
      name: 'timeline.full',
      ...ratioOf([whole, sorted], (a, b) => a / b),
      bound: 3,
      detail: `timeline ${ms(whole.median)}, copy and sort ${ms(sorted.median)}, 400 bars, ${plain.length} hits`,
    },
    {
      name: 'edit.one',
      ...ratioOf([edited, whole], (a, b) => a / b),
      bound: 0.1,
      detail: `one placed hit and its timeline ${ms(edited.median)}, the full timeline ${ms(whole.median)}`,
    },
  ];
}

/** Opening a stored song, over parsing the same as JSON. */
function opening(): Figure {
  const text = JSON.stringify(longSong(120));
  const [parse, open] = timed(
    5,
    { run: () => JSON.parse(text) },
    { prepare: () => JSON.parse(text), run: (stored) => readSong(stored) },
  );
  return {
    name: 'open',
    ...ratioOf([open, parse], (a, b) => a / b),
    bound: 4,
    detail: `opening ${ms(open.median)}, JSON.parse ${ms(parse.median)}, 60,000 hits`,
  };
}

/** What the audio thread does more in a block in which a changed song comes, over a block's time. */
function liveEdit(): Figure {
  const rate = 48_000;
  const song = longSong();
  const loop = { from: 0, to: 8 * 3840 };
  const cue = (of: Song): Cued => {
    const score = compileScore(of);
    return { score, loop: compileLoop(score, loop.from, loop.to) };
  };
  const cues = [song, { ...song, bpm: 126 }].map(cue);
  const engine = new Engine(rate);
  for (const sound of soundsFor(notesIn(cues[0].score), rate)) engine.load(sound);
  engine.setDesk(compileDesk(song));
  engine.setScore(cues[0]);
  engine.play({ from: 0 });
  const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  let round = 0;
  const [plain, edited] = timed(
    40,
    { run: () => engine.process(left, right, BLOCK) },
    {
      run: () => {
        engine.setScore(cues[round++ % 2]);
        engine.process(left, right, BLOCK);
      },
    },
  );
  const block = (BLOCK / rate) * 1000;
  return {
    name: 'edit.live',
    ...ratioOf([plain, edited], (a, b) => Math.max(0, b - a) / block),
    bound: 0.25,
    detail: `a block ${ms(plain.median)}, with a changed song ${ms(edited.median)}, of ${ms(block)}; 25,000 hits`,
  };
}

/** A block with 64 voices on sixteen tracks, all with a tone and in room and echo, over a block's time. */
function live(): Figure {
  const rate = 48_000;
  const pieces = DEFAULT_KIT.pieces.slice(0, 16);
  const beat = pieces.flatMap(({ id }, n) =>
    Array.from({ length: 16 }, (_, i) => ({
      piece: id,
      hit: { id: `${id}-${i}`, at: i * 240, push: n, velocity: 90, articulation: 'usual' },
    })),
  );
  const pattern = placeHits(emptyPattern({ id: 'busy', name: 'busy' }), beat);
  const plain = songWith({ id: 'busy', name: 'busy', bpm: 120 }, [pattern]);
  const song = fullyMixed(
    {
      ...plain,
      sections: [sectionOf(pattern, { id: 'a', name: 'a', kind: 'verse', bars: 64 })],
      places: [{ id: 'one', section: 'a', overlay: [] }],
    },
    pieces.map(({ id }) => id),
  );
  const score = compileScore(song);
  const engine = new Engine(rate);
  for (const sound of soundsFor(notesIn(score), rate)) engine.load(sound);
  engine.setDesk(compileDesk(song));
  engine.setScore({ score });
  engine.play({ from: 0 });
  const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  const took: number[] = [];
  for (let n = 0; n < 6000; n++) {
    const start = performance.now();
    engine.process(left, right, BLOCK);
    // In the first two seconds the voices come up, and the code is compiled.
    if (n > 750) took.push(performance.now() - start);
  }
  const p95 = took.sort((a, b) => a - b)[Math.floor(took.length * 0.95)];
  const block = (BLOCK / rate) * 1000;
  return {
    name: 'live',
    ratio: p95 / block,
    bound: 0.25,
    detail: `95th percentile of a block ${ms(p95)} of ${ms(block)}; 16 tracks, all with tone, dynamics and drive, into room and echo`,
  };
}

/** Twenty sounds of a kit, as a drummer's kit has them: how long they take, and how much they hold. */
function kits(): Figure[] {
  const notes = [36, 38, 42, 46, 44, 128, 51, 53, 49, 57, 55, 52, 41, 43, 45, 47, 48, 50, 37, 40];
  const start = performance.now();
  const [first] = soundsFor(notes.slice(0, 1), 48_000);
  const soon = performance.now() - start;
  const sounds = [first, ...soundsFor(notes.slice(1), 48_000)];
  const whole = performance.now() - start;
  const bytes = sounds.flatMap(buffersOf).reduce((sum, { byteLength }) => sum + byteLength, 0);
  return [
    {
      name: 'kit.whole',
      ratio: whole / 4000,
      bound: 1,
      detail: `twenty sounds in ${ms(whole)} on one core, the first in ${ms(soon)}; 4 s are allowed`,
    },
    {
      name: 'kit.memory',
      ratio: bytes / 60e6,
      bound: 1,
      detail: `twenty sounds are ${(bytes / 1e6).toFixed(1)} MB; 60 MB are allowed`,
    },
  ];
}

/** What a thousand edits keep alive, with all that is drawn and heard computed after each. */
function undoMemory(): Figure {
  setFlagsFromString('--expose-gc');
  const collect = runInNewContext('gc') as () => void;
  const used = () => {
    collect();
    const { heapUsed, arrayBuffers } = process.memoryUsage();
    return (heapUsed + arrayBuffers) / 2 ** 20;
  };
  let history = newHistory(longSong(40));
  const look = ({ song }: { song: Song }) => [cloth(song), clothByFamily(song), compileScore(song)];
  look(history);
  let before = 0;
  // The first edits push what was looked at before out of all caches; they are not counted.
  for (let n = -40; n < 1000; n++) {
    if (n === 0) {
      history = newHistory(history.song);
      before = used();
    }
    const song = applyCommand(history.song, {
      type: 'place hits',
      pattern: `p${(n + 40) % 40}`,
      hits: [
        {
          piece: 'cowbell',
          hit: {
            id: `n${n}`,
            at: ((n + 40) % 128) * 240,
            push: 0,
            velocity: 90,
            articulation: 'struck',
          },
        },
      ],
    });
    history = advance(history, song, 'place hit');
    look(history);
  }
  const cost = used() - before;
  return {
    name: 'undo.memory',
    ratio: cost / 60,
    bound: 1,
    detail: `${cost.toFixed(1)} MB for ${history.past.length} steps of a 20,000-hit song; 60 MB are allowed`,
  };
}
