import { barTicks, type Ticks } from '../time';
import type { Marker, Part, Stretch } from './layout';
import type { SourceNotes } from './notes';

/** Bars that are looked at together, as phrases mostly come. */
const PHRASE_BARS = 4;
/** A part of more phrases is cut into parts of two: these are what repeats in a long run. */
const MOST_PHRASES = 4;
/** Two bars are of one kind when they share so much of what either has. */
const ALIKE = 0.7;
/** Kinds that a bar is compared with; beyond, a bar that is like none of them is of a kind of its own. */
const MOST_KINDS = 200;
/** Shorter sources have no form to find. */
const SHORTEST_BARS = 16;

/**
 * Parts that repeat in a source without markers, as markers: bars are compared by what is struck on which
 * step, phrases of four bars by the kinds of their bars but for the last, where a fill may stand. Parts
 * that are alike have the same letter. Nothing where the whole source is but one part, or short.
 * @param parts the source as it is cut without them
 * @param notes ordered by tick
 * @param scale ticks of a song a tick of the source
 */
export function repeatingParts(
  parts: readonly Part[],
  notes: SourceNotes,
  scale: number,
): Marker[] {
  const stretches = parts.flatMap((part) => part.stretches);
  if (stretches.reduce((sum, { bars }) => sum + bars, 0) <= SHORTEST_BARS) return [];
  const kinds = kindsOfBars(stretches, notes, scale);
  const markers: Marker[] = [];
  const letters: (readonly number[])[] = [];
  let bar = 0;
  for (const stretch of stretches) {
    const phrases = phrasesOf(kinds.slice(bar, bar + stretch.bars));
    for (const { from, kind } of runsOf(phrases)) {
      let letter = letters.findIndex((other) => sameKind(other, kind));
      if (letter < 0) letter = letters.push(kind) - 1;
      markers.push({
        tick: stretch.start + from * PHRASE_BARS * barTicks(stretch.meter),
        name: letterOf(letter),
      });
    }
    bar += stretch.bars;
  }
  return letters.length > 1 || markers.length > 2 ? markers : [];
}

/** A, B … Z, A2, B2 … */
function letterOf(index: number): string {
  const round = Math.floor(index / 26);
  return String.fromCharCode(65 + (index % 26)) + (round > 0 ? round + 1 : '');
}

/** Of each bar the number of its kind; a silent bar is of kind -1. */
function kindsOfBars(stretches: readonly Stretch[], notes: SourceNotes, scale: number): number[] {
  const kinds: Set<number>[] = [];
  const known = new Map<string, number>();
  let next = 0;
  return stretches.flatMap((stretch) => {
    const bar = barTicks(stretch.meter);
    const step = bar / Math.max(1, Math.round(bar / SIXTEENTH));
    return Array.from({ length: stretch.bars }, (_, index) => {
      const start = stretch.start + index * bar;
      const strokes = new Set<number>();
      // Half a step before the line belongs to the bar that begins there.
      while (next < notes.length && notes.ticks[next] * scale < start + bar - step / 2) {
        const place = Math.max(0, Math.round((notes.ticks[next] * scale - start) / step));
        strokes.add(place * 128 + notes.notes[next]);
        next++;
      }
      if (strokes.size === 0) return -1;
      const text = [...strokes].sort((a, b) => a - b).join();
      let kind = known.get(text);
      if (kind === undefined) {
        kind = kinds.slice(0, MOST_KINDS).findIndex((other) => likeness(other, strokes) >= ALIKE);
        if (kind < 0) kind = kinds.push(strokes) - 1;
        known.set(text, kind);
      }
      return kind;
    });
  });
}

const SIXTEENTH: Ticks = 240;

/** What two sets share, of what either has. Source: Jaccard (1912), as for fitting a guide. */
function likeness(a: ReadonlySet<number>, b: ReadonlySet<number>): number {
  let both = 0;
  for (const one of a) if (b.has(one)) both++;
  return both / (a.size + b.size - both);
}

/** The kinds of the bars of each phrase, without those of its last bar. */
function phrasesOf(kinds: readonly number[]): (readonly number[])[] {
  return Array.from({ length: Math.ceil(kinds.length / PHRASE_BARS) }, (_, i) => {
    const bars = kinds.slice(i * PHRASE_BARS, (i + 1) * PHRASE_BARS);
    return bars.length > 1 ? bars.slice(0, PHRASE_BARS - 1) : bars;
  });
}

/** Whether two phrases are mostly of the same kinds of bars. */
function sameKind(a: readonly number[], b: readonly number[]): boolean {
  const shared = a.filter((kind) => b.includes(kind)).length;
  return shared * 2 > Math.max(1, Math.min(a.length, b.length));
}

/** Phrases of one kind that follow each other, as parts: where each begins, in phrases. */
function runsOf(phrases: readonly (readonly number[])[]) {
  const runs: { from: number; count: number; kind: readonly number[] }[] = [];
  phrases.forEach((kind, from) => {
    const last = runs.at(-1);
    if (last && sameKind(last.kind, kind)) last.count++;
    else runs.push({ from, count: 1, kind });
  });
  return runs.flatMap(({ from, count, kind }) => {
    const by = count > MOST_PHRASES ? 2 : count;
    return Array.from({ length: Math.ceil(count / by) }, (_, i) => ({ from: from + i * by, kind }));
  });
}
