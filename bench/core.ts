import { parseMidi } from 'midi-file';
import { applyCommand, importMidi, timeline, type Command } from '../src/core';
import { fileOf } from '../src/core/testing/arbitraries';
import { seeded } from '../src/core/sound/random';
import { longSong } from './material';
import type { Figure } from './main';

/** Median time of `run` in milliseconds; `prepare` is not counted. */
function median<T>(
  times: number,
  prepare: (round: number) => T,
  run: (input: T) => unknown,
): number {
  const took = Array.from({ length: times }, (_, round) => {
    const input = prepare(round);
    const start = performance.now();
    run(input);
    return performance.now() - start;
  });
  return took.sort((a, b) => a - b)[took.length >> 1];
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
  const bare = () =>
    median(
      25,
      () => bytes,
      (b) => parseMidi(b),
    );
  const ours = () =>
    median(
      25,
      () => bytes,
      (b) => importMidi(b, 'bench.mid'),
    );
  bare();
  ours();
  const [parse, read] = [bare(), ours()];
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
  const sort = () =>
    median(
      25,
      () => plain,
      (hits) => hits.map((hit) => ({ ...hit })).sort((a, b) => a.tick - b.tick),
    );
  // A clone has been computed nowhere yet, so nothing can be taken from an earlier time.
  const full = () => median(25, () => structuredClone(song), timeline);
  let current = song;
  timeline(current);
  const one = () =>
    median(
      200,
      (round): Command => ({
        type: 'place hits',
        pattern: `p${round % 50}`,
        hits: [
          {
            piece: 'cowbell',
            hit: {
              id: `n${round}`,
              at: (round % 128) * 240,
              push: 0,
              velocity: 90,
              articulation: '',
            },
          },
        ],
      }),
      (command) => {
        current = applyCommand(current, command);
        return timeline(current);
      },
    );
  sort();
  full();
  one();
  const [sorted, whole, edited] = [sort(), full(), one()];
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
