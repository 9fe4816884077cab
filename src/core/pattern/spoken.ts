import { articulationOf, pieceOf, type Hit, type Kit, type Pattern, type PieceId } from '../model';
import { barTicks, pulseTicks, pushInMs, type Bpm, type Ticks } from '../time';
import type { Selected } from './summary';

/** What has to be known of a pattern, or of a strand of it, to count its steps. */
export type Counted = Pick<Pattern, 'meter' | 'step'>;

/** Bar and beat of a step as musicians count, both from 1; steps between beats are numbered too. */
export function spokenStep(pattern: Counted, at: Ticks): string {
  const bar = Math.floor(at / barTicks(pattern.meter));
  const inBar = at - bar * barTicks(pattern.meter);
  const beatLength = pulseTicks(pattern.meter);
  const beat = Math.floor(inBar / beatLength);
  const inBeat = inBar - beat * beatLength;
  const place = `bar ${bar + 1} beat ${beat + 1}`;
  return inBeat === 0 ? place : `${place}, step ${Math.floor(inBeat / pattern.step) + 1}`;
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
  kit: Kit,
): string {
  const { name, articulations } = pieceOf(piece, kit);
  const parts = [name.toLowerCase(), spokenStep(pattern, at)];
  if (!hit) return [...parts, 'empty'].join(', ');
  const articulation = articulationOf(piece, hit.articulation, kit);
  if (articulation !== articulations[0]) parts.push(articulation.name);
  parts.push(`velocity ${hit.velocity}`);
  const push = spokenPush(hit.push, bpm);
  if (push) parts.push(push);
  return [...parts, ...spokenFigures(hit)].join(', ');
}

/** "flam", "burst of 3", "on pass 2 of 4": what is special about a hit. */
function spokenFigures({ flam, burst, choke, cycle, reverse, swell }: Hit): string[] {
  const words = [];
  if (flam) words.push(flam.strokes === 1 ? 'flam' : 'drag');
  if (burst) words.push(`burst of ${burst.strokes}`);
  if (choke) words.push('choked');
  if (swell) words.push('with a swell');
  if (reverse) words.push('reversed');
  if (cycle) words.push(`on time ${cycle.on.join(' and ')} of ${cycle.of}`);
  return words;
}

/** "5 hits selected, snare only, bar 1 beat 3 to bar 2 beat 4". */
export function spokenSelection(pattern: Pattern, selected: Selected, kit: Kit): string {
  const { count, pieces, steps } = selected;
  const names = pieces.map((piece) => pieceOf(piece, kit).name.toLowerCase());
  const on =
    names.length === 1 ? `${names[0]} only` : `${names.length} pieces: ${names.join('; ')}`;
  const [from, to] = steps.map((at) => spokenStep(pattern, at));
  return `${count} ${count === 1 ? 'hit' : 'hits'} selected, ${on}, ${from === to ? from : `${from} to ${to}`}`;
}
