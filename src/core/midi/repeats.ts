import { pieceOfNote } from '../model';
import { barTicks, type Ticks, type Velocity } from '../time';
import type { Marker, Part, Stretch } from './layout';
import type { SourceNotes } from './notes';

/** Bars that are looked at together, as phrases mostly come. */
const PHRASE_BARS = 4;
/** A part of more phrases is cut into parts of two: these are what repeats in a long run. */
const MOST_PHRASES = 4;
/** Two bars are of one kind when they share at least this much of all that either has, */
const ALIKE = 0.7;
/** and at least this much of the kicks, and of the snare's strokes, of either: sixteen hats do not outvote them. */
const ALIKE_BELOW = 0.5;
/** Softer strokes of the snare are ghosts, which change from bar to bar. */
const GHOST: Velocity = 45;
/** Kinds that a bar is compared with; beyond, a bar that is like none of them is of a kind of its own. */
const MOST_KINDS = 200;
/** Shorter sources have no form to find. */
const SHORTEST_BARS = 16;

/**
 * Parts that repeat in a source without markers, as markers: bars are compared by what is struck on which
 * step, phrases of four bars bar by bar but for the last, where a fill may stand. Parts that are alike have
 * the same letter. Nothing where the whole source is but one part, or short.
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

/** A, B … Z, AA, BB … */
function letterOf(index: number): string {
  return String.fromCharCode(65 + (index % 26)).repeat(1 + Math.floor(index / 26));
}

/** The strokes of a bar by their steps: all of them, and by themselves those that make the beat. */
interface Struck {
  all: Set<number>;
  kicks: Set<number>;
  snares: Set<number>;
}

const pieces = Array.from({ length: 128 }, (_, note) => pieceOfNote(note).piece.id);

/** Of each bar the number of its kind; a silent bar is of kind -1. */
function kindsOfBars(stretches: readonly Stretch[], notes: SourceNotes, scale: number): number[] {
  const kinds: Struck[] = [];
  const known = new Map<string, number>();
  let next = 0;
  return stretches.flatMap((stretch) => {
    const bar = barTicks(stretch.meter);
    const step = bar / Math.max(1, Math.round(bar / SIXTEENTH));
    return Array.from({ length: stretch.bars }, (_, index) => {
      const start = stretch.start + index * bar;
      const struck: Struck = { all: new Set(), kicks: new Set(), snares: new Set() };
      // Half a step before the line belongs to the bar that begins there.
      while (next < notes.length && notes.ticks[next] * scale < start + bar - step / 2) {
        const place = Math.max(0, Math.round((notes.ticks[next] * scale - start) / step));
        const note = notes.notes[next];
        struck.all.add(place * 128 + note);
        if (pieces[note] === 'kick') struck.kicks.add(place);
        if (pieces[note] === 'snare' && notes.velocities[next] >= GHOST) struck.snares.add(place);
        next++;
      }
      if (struck.all.size === 0) return -1;
      const text = [struck.all, struck.snares]
        .map((set) => [...set].sort((a, b) => a - b).join())
        .join('|');
      let kind = known.get(text);
      if (kind === undefined) {
        kind = kinds.slice(0, MOST_KINDS).findIndex((other) => areAlike(other, struck));
        if (kind < 0) kind = kinds.push(struck) - 1;
        known.set(text, kind);
      }
      return kind;
    });
  });
}

const SIXTEENTH: Ticks = 240;

const areAlike = (a: Struck, b: Struck) =>
  likeness(a.all, b.all) >= ALIKE &&
  likeness(a.kicks, b.kicks) >= ALIKE_BELOW &&
  likeness(a.snares, b.snares) >= ALIKE_BELOW;

/** The share of two sets that is in both, 0 to 1; two empty ones are alike. Source: Jaccard (1912), as for fitting a guide. */
function likeness(a: ReadonlySet<number>, b: ReadonlySet<number>): number {
  let both = 0;
  for (const one of a) if (b.has(one)) both++;
  const either = a.size + b.size - both;
  return either === 0 ? 1 : both / either;
}

/** The kinds of the bars of each phrase, without those of its last bar. */
function phrasesOf(kinds: readonly number[]): (readonly number[])[] {
  return Array.from({ length: Math.ceil(kinds.length / PHRASE_BARS) }, (_, i) => {
    const bars = kinds.slice(i * PHRASE_BARS, (i + 1) * PHRASE_BARS);
    return bars.length > 1 ? bars.slice(0, PHRASE_BARS - 1) : bars;
  });
}

/** Whether two phrases have mostly bars of the same kind in the same place. */
function sameKind(a: readonly number[], b: readonly number[]): boolean {
  const shared = a.filter((kind, bar) => b[bar] === kind).length;
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
