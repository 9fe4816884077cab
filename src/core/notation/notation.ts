import {
  articulationOf,
  byStaffOrder,
  pieceOf,
  type Kit,
  type Pattern,
  type PieceId,
  type Song,
} from '../model';
import { barNumber, barTicks, sameMeter, type Bpm, type Meter, type Ticks } from '../time';
import { laidPlaces, placeName, temposOfSong } from '../weave';
import { writtenBar, type Onset, type Written } from './rhythm';
import { writtenAs, type Voice, type Written as OnStaff } from './staff';
import { struckIn, type Struck, type WrittenStroke } from './strokes';

/** Notes of one moment and voice, or a rest. */
export type Chord = Written<WrittenStroke>;

/** A tempo that begins within a bar. */
export interface TempoMark {
  /** Ticks from the start of the bar. */
  at: Ticks;
  bpm: Bpm;
  /** Goes evenly to the next tempo. */
  glide: boolean;
}

/** A bar as it is written. */
export interface NotatedBar {
  /** From 0. */
  index: number;
  start: Ticks;
  meter: Meter;
  /** Set where the meter is another than in the bar before, and in the first. */
  newMeter: boolean;
  /** The name of the section that begins here, and what its place is called: "verse 2". */
  section?: string;
  label?: string;
  tempos: readonly TempoMark[];
  voices: Readonly<Record<Voice, readonly Chord[]>>;
  /** How it swings, where that is otherwise than in the bars before: "swing eighths, 67 %", or "straight". */
  swing?: string;
  hits: number;
  /** The names of the pattern most of it comes from, and of a fill in it. */
  groove?: string;
  fill?: string;
}

/** A way to strike a piece as it stands on the staff, for the legend. */
export interface LegendEntry extends OnStaff {
  piece: PieceId;
  articulation: string;
  name: string;
  /** The entry explains this sign at the head, not the head. */
  mark?: 'ghost' | 'accent';
}

/** A song as bars of drum notation: one voice for the hands, one for the feet. */
export interface Notation {
  title: string;
  bars: readonly NotatedBar[];
  /** What is used, in the order of the staff from the top. */
  legend: readonly LegendEntry[];
  /** Entries of the legend for signs at heads: ghost notes and accents, where there are some. */
  marks: readonly LegendEntry[];
  kit: Kit;
}

/**
 * Writes a song as drum notation. Each hit is written where its step is, and keeps when it really sounds;
 * swing is a heading over straight notes, and feel is not written. Figures that notes cannot say as one are written stroke by stroke.
 */
export function notationOf(song: Song): Notation {
  const struck = struckIn(song);
  const tempos = temposOfSong(song);
  const patterns = new Map(song.patterns.map((pattern) => [pattern.id, pattern]));
  const bars: NotatedBar[] = [];
  let next = 0;
  let nextTempo = 0;
  let before: Meter | undefined;
  let swung = STRAIGHT;
  /** Strokes of rolls that go on over the bar line. */
  let late: Struck[] = [];
  for (const laid of laidPlaces(song)) {
    const { section, start } = laid;
    for (let bar = 0; bar < section.bars; bar++) {
      const { start: from, meter } = barNumber(section.meters, bar);
      const begins = start + from;
      const end = begins + barTicks(meter);
      const here: Struck[] = late;
      while (next < struck.length && struck[next].home < end) here.push(struck[next++]);
      const inBar = here.flatMap((one): Struck[] => {
        const over = one.roll && one.home + one.roll.room > end;
        return over ? [...one.roll!.strokes] : [one];
      });
      late = bar === section.bars - 1 ? [] : inBar.filter(({ home }) => home >= end);
      const written = late.length > 0 ? inBar.filter(({ home }) => home < end) : inBar;
      const marks: TempoMark[] = [];
      for (; nextTempo < tempos.length && tempos[nextTempo].at < end; nextTempo++) {
        const { at, bpm, glide } = tempos[nextTempo];
        marks.push({ at: at - begins, bpm, glide: glide === true });
      }
      const { swing, ...played } = playedIn(written, patterns);
      const changes = swing !== undefined && swing !== swung;
      swung = swing ?? swung;
      bars.push({
        index: bars.length,
        start: begins,
        meter,
        newMeter: !before || !sameMeter(before, meter),
        ...(bar === 0 && { section: section.name, label: placeName(song, laid) }),
        tempos: marks,
        voices: voicesOf(inOrder(written), { begins, meter, kit: song.kit }),
        hits: written.length,
        ...(changes && { swing }),
        ...played,
      });
      before = meter;
    }
  }
  return {
    title: song.name,
    bars,
    legend: legendOf(struck, song.kit),
    marks: marksOf(struck, song.kit),
    kit: song.kit,
  };
}

/** The heading of a bar that does not swing, behind one that does. */
const STRAIGHT = 'straight';

const NOTES: Readonly<Record<number, string>> = { 480: 'eighths', 240: 'sixteenths', 120: '32nds' };

/** How a pattern swings, in words for a heading. */
function saidSwing({ swing }: Pattern): string {
  if (!swing || swing.percent === 50) return STRAIGHT;
  return `swing ${NOTES[swing.unit] ?? ''}, ${Math.round(swing.percent)} %`.replace(' ,', ',');
}

/** The patterns that a bar plays, by name, and how most of it swings. */
function playedIn(
  struck: readonly Struck[],
  patterns: ReadonlyMap<string, Pattern>,
): Pick<NotatedBar, 'groove' | 'fill' | 'swing'> {
  const counts = new Map<string, number>();
  for (const { pattern } of struck) counts.set(pattern, (counts.get(pattern) ?? 0) + 1);
  let groove: { name: string; hits: number; swing: string } | undefined;
  let fill: string | undefined;
  for (const [id, hits] of counts) {
    const pattern = patterns.get(id)!;
    const { name, kind } = pattern;
    // The stroke that ends a fill in the next bar makes no fill of that bar.
    if (kind === 'fill') fill ??= hits > struck.length / 4 ? name : undefined;
    else if (!groove || hits > groove.hits) groove = { name, hits, swing: saidSwing(pattern) };
  }
  return {
    ...(groove && { groove: groove.name, swing: groove.swing }),
    ...(fill !== undefined && { fill }),
  };
}

interface BarRoom {
  begins: Ticks;
  meter: Meter;
  kit: Kit;
}

function voicesOf(struck: readonly Struck[], room: BarRoom): NotatedBar['voices'] {
  const by: Record<Voice, Struck[]> = { hands: [], feet: [] };
  for (const one of struck) {
    by[writtenAs(one.stroke.piece, one.stroke.articulation, room.kit).voice].push(one);
  }
  return { hands: voiceOf(by.hands, room), feet: voiceOf(by.feet, room) };
}

const inOrder = (struck: readonly Struck[]) =>
  [...struck].sort((a, b) => a.home - b.home || a.stroke.tick - b.stroke.tick);

/** Rolls are one note each where that note comes to last as long as they do; else all their strokes. */
function voiceOf(struck: readonly Struck[], { begins, meter }: BarRoom): Chord[] {
  const written = (list: readonly Struck[]) =>
    writtenBar(
      list.map((one): Onset<Struck> => ({ home: one.home - begins, struck: one })),
      meter,
    );
  let list = struck;
  let chords = written(list);
  for (;;) {
    const apart = new Set(
      chords.flatMap((chord) => chord.struck.filter((one) => !saysRoll(chord, one, begins))),
    );
    if (apart.size === 0) break;
    list = inOrder(
      list.flatMap((one): Struck[] => (apart.has(one) ? [...one.roll!.strokes] : [one])),
    );
    chords = written(list);
  }
  return chords.map((chord) => ({ ...chord, struck: chord.struck.map(({ stroke }) => stroke) }));
}

/** Whether a note says all of a roll: bars through a stem halve the plain value of the note. */
function saysRoll(chord: Written<Struck>, { roll, home }: Struck, begins: Ticks): boolean {
  if (!roll) return true;
  const plain = chord.dots === 0 && chord.base >= 4 && !chord.tuplet;
  return plain && roll.room === chord.ticks && home - begins === chord.at;
}

function legendOf(struck: readonly Struck[], kit: Kit): LegendEntry[] {
  const used = new Map<string, LegendEntry>();
  for (const { stroke } of struck) {
    const { piece, articulation } = stroke;
    const key = `${piece}/${articulation}`;
    if (used.has(key)) continue;
    const name = nameOfWay(piece, articulation, kit);
    used.set(key, entryOf(stroke, name, kit));
  }
  const rank = ({ piece, articulation }: LegendEntry) =>
    pieceOf(piece, kit).articulations.findIndex(({ id }) => id === articulation);
  return [...used.values()].sort(
    (a, b) => byStaffOrder(a.piece, b.piece, kit) || rank(a) - rank(b),
  );
}

/** Signs at heads, each on the first stroke that has it. */
function marksOf(struck: readonly Struck[], kit: Kit): LegendEntry[] {
  const marks = [
    ['ghost', 'Ghost note'],
    ['accent', 'Accent'],
  ] as const;
  return marks.flatMap(([mark, name]) => {
    const first = struck.find(({ stroke }) => stroke[mark]);
    return first ? [{ ...entryOf(first.stroke, name, kit), mark }] : [];
  });
}

const entryOf = ({ piece, articulation }: WrittenStroke, name: string, kit: Kit): LegendEntry => ({
  piece,
  articulation,
  name,
  ...writtenAs(piece, articulation, kit),
});

/** "Hi-hat, half open"; a piece that is struck in one way has no other name than its own. */
export function nameOfWay(piece: PieceId, articulation: string, kit: Kit): string {
  const { name, articulations } = pieceOf(piece, kit);
  return articulations.length === 1
    ? name
    : `${name}, ${articulationOf(piece, articulation, kit).name}`;
}
