import { articulationOf, pieceOf, type PieceId } from '../model/pieces';
import type { Hit, Pattern } from '../model/song';
import { barTicks, beatTicks } from '../time/meter';
import { PPQ, type Bpm, type Ticks } from '../time/units';
import { swungBy } from './swing';

/** What has to be known of a pattern, or of a strand of it, to count its steps. */
export type Counted = Pick<Pattern, 'meter' | 'step'>;

/** Bar and beat of a step as musicians count, both from 1; steps between beats are numbered too. */
export function spokenStep(pattern: Counted, at: Ticks): string {
  const bar = Math.floor(at / barTicks(pattern.meter));
  const inBar = at - bar * barTicks(pattern.meter);
  const beatLength = beatTicks(pattern.meter);
  const beat = Math.floor(inBar / beatLength);
  const inBeat = inBar - beat * beatLength;
  const place = `bar ${bar + 1} beat ${beat + 1}`;
  return inBeat === 0 ? place : `${place}, step ${Math.floor(inBeat / pattern.step) + 1}`;
}

/** Milliseconds a hit is off its step at a tempo: negative is early. */
export function pushInMs(push: Ticks, bpm: Bpm): number {
  return (push * 60_000) / bpm / PPQ;
}

/** The push that is so many milliseconds at a tempo: the inverse of `pushInMs`. */
export function pushOfMs(ms: number, bpm: Bpm): Ticks {
  return (ms / 60_000) * bpm * PPQ;
}

/** "12 ms late", "3 ms early", or nothing when it is on its step. */
export function spokenPush(push: Ticks, bpm: Bpm): string {
  const ms = Math.round(pushInMs(push, bpm));
  return ms === 0 ? '' : `${Math.abs(ms)} ms ${ms > 0 ? 'late' : 'early'}`;
}

/** A step of the grid in words: "snare, bar 2 beat 3, velocity 96, 12 ms late". */
export function spokenCell(
  pattern: Counted,
  piece: PieceId,
  at: Ticks,
  hit: Hit | undefined,
  bpm: Bpm,
): string {
  const { name, articulations } = pieceOf(piece);
  const parts = [name.toLowerCase(), spokenStep(pattern, at)];
  if (!hit) return [...parts, 'empty'].join(', ');
  const articulation = articulationOf(piece, hit.articulation);
  if (articulation !== articulations[0]) parts.push(articulation.name);
  parts.push(`velocity ${hit.velocity}`);
  const push = spokenPush(hit.push, bpm);
  if (push) parts.push(push);
  return [...parts, ...spokenFigures(hit)].join(', ');
}

/** "flam", "burst of 3", "on pass 2 of 4": what is special about a hit. */
function spokenFigures({ flam, burst, choke, cycle, reverse }: Hit): string[] {
  const words = [];
  if (flam) words.push(flam.strokes === 1 ? 'flam' : 'drag');
  if (burst) words.push(`burst of ${burst.strokes}`);
  if (choke) words.push('choked');
  if (reverse) words.push('reversed');
  if (cycle) words.push(`on pass ${cycle.on.join(' and ')} of ${cycle.of}`);
  return words;
}

/** Where a hit is heard in its pattern, with its push and the pattern's swing. */
export function heardAt({ swing }: Pick<Pattern, 'swing'>, hit: Hit): Ticks {
  return hit.at + hit.push + swungBy(hit.at, swing);
}

/** The first hit of a strand that belongs to a step of the pattern's grid. */
export function hitOfStep(hits: readonly Hit[], at: Ticks, step: Ticks): Hit | undefined {
  return hits.find((hit) => hit.at >= at && hit.at < at + step);
}

/** What is selected, for saying it and for the values beside it. */
export interface Selected {
  count: number;
  pieces: PieceId[];
  /** Softest and loudest. */
  velocity: [low: number, high: number];
  /** Earliest and latest push. */
  push: [low: Ticks, high: Ticks];
  /** First and last step. */
  steps: [first: Ticks, last: Ticks];
}

/** @returns undefined when none of the ids is a hit of the pattern */
export function summary(pattern: Pattern, ids: ReadonlySet<string>): Selected | undefined {
  const selected: Selected = {
    count: 0,
    pieces: [],
    velocity: [Infinity, -Infinity],
    push: [Infinity, -Infinity],
    steps: [Infinity, -Infinity],
  };
  for (const { piece, hits } of pattern.strands) {
    const before = selected.count;
    for (const hit of hits) {
      if (!ids.has(hit.id)) continue;
      selected.count++;
      widen(selected.velocity, hit.velocity);
      widen(selected.push, hit.push);
      widen(selected.steps, hit.at);
    }
    if (selected.count > before) selected.pieces.push(piece);
  }
  return selected.count === 0 ? undefined : selected;
}

function widen(span: [low: number, high: number], value: number): void {
  if (value < span[0]) span[0] = value;
  if (value > span[1]) span[1] = value;
}

/** "5 hits selected, snare only, bar 1 beat 3 to bar 2 beat 4". */
export function spokenSelection(pattern: Pattern, selected: Selected): string {
  const { count, pieces, steps } = selected;
  const names = pieces.map((piece) => pieceOf(piece).name.toLowerCase());
  const on =
    names.length === 1 ? `${names[0]} only` : `${names.length} pieces: ${names.join('; ')}`;
  const [from, to] = steps.map((at) => spokenStep(pattern, at));
  return `${count} ${count === 1 ? 'hit' : 'hits'} selected, ${on}, ${from === to ? from : `${from} to ${to}`}`;
}
