import { parseMidi } from 'midi-file';
import { applyCommand, importMidi, timeline, type Command, type Song } from '../src/core';
import { fileOf } from '../src/core/testing/arbitraries';
import { seeded } from '../src/core/random';
import { longSong } from './material';
import type { Figure } from './main';

/** One thing to time; `prepare` is not counted. */
interface Timed {
  prepare?: () => unknown;
  run: (input: unknown) => unknown;
}

/** Runs of one candidate before the next has its turn. */
const BLOCK = 20;
/** The first blocks of each are not counted: in them the code is still being compiled. */
const WARM_UP = 3;

/**
 * Median times in milliseconds. The candidates take turns block by block, so that a machine that is
 * slow for a while is slow for all of them.
 */
function medians(blocks: number, ...candidates: Timed[]): number[] {
  const took = candidates.map((): number[] => []);
  for (let block = -WARM_UP; block < blocks; block++) {
    candidates.forEach(({ prepare, run }, i) => {
      for (let n = 0; n < BLOCK; n++) {
        const input = prepare?.();
        const start = performance.now();
        run(input);
        if (block >= 0) took[i].push(performance.now() - start);
      }
    });
  }
  return took.map((times) => times.sort((a, b) => a - b)[times.length >> 1]);
}

const ms = (value: number) => `${value.toFixed(2)} ms`;

export function coreFigures(): Figure[] {
  return [midiImport(), ...timelines()];
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
  const [parse, read] = medians(
    6,
    { run: () => parseMidi(bytes) },
    { run: () => importMidi(bytes, 'bench.mid') },
  );
  return {
    name: 'midi.import',
    ratio: read / parse,
    bound: 3,
    detail: `importMidi ${ms(read)}, bare midi-file ${ms(parse)}, 16,000 hits`,
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
  const [sorted, whole, edited] = medians(
    4,
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
      ratio: whole / sorted,
      bound: 3,
      detail: `timeline ${ms(whole)}, copy and sort ${ms(sorted)}, 400 bars, ${plain.length} hits`,
    },
    {
      name: 'edit.one',
      ratio: edited / whole,
      bound: 0.1,
      detail: `one placed hit and its timeline ${ms(edited)}, the full timeline ${ms(whole)}`,
    },
  ];
}
