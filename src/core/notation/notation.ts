import {
  articulationOf,
  byStaffOrder,
  pieceOf,
  type Kit,
  type Pattern,
  type PieceId,
  type Song,
} from '../model';
import {
  barNumber,
  barTicks,
  sameMeter,
  straightened,
  type Bpm,
  type Meter,
  type Swing,
  type Ticks,
} from '../time';
import { laidPlaces, placeName, temposOfSong } from '../weave';
import { withoutShuffles, type Straightened } from './shuffle';
import { writtenBar, type Onset, type Written } from './rhythm';
import {
  aboveMiddle,
  isPercussion,
  touches,
  VOICES,
  writtenAs,
  type Voice,
  type Written as OnStaff,
} from './staff';
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
  /** Notes of the feet that stand beside those of the hands, which their heads would touch. */
  shifted: number;
  /** Something stands high over its stems: the number of a tuplet on a high cymbal, or letters over percussion. */
  tall: boolean;
  /** Something reaches far below its staff: the number of a tuplet, or a short rest. */
  deep: boolean;
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

/** A song as bars of drum notation: a voice for the hands, one for the feet, one for percussion. */
export interface Notation {
  title: string;
  bars: readonly NotatedBar[];
  /** What is used, in the order of the staff from the top. */
  legend: readonly LegendEntry[];
  /** Entries of the legend for signs at heads: ghost notes and accents, where there are some. */
  marks: readonly LegendEntry[];
  /** Whether anything stands on the line of percussion. */
  percussion: boolean;
  /** The kit by which strokes have their places on the staff. */
  kit: Kit;
}

/**
 * Writes a song as drum notation. Each hit is written where its step is, and keeps when it really sounds; one that
 * sounds further from there than half the finest step of its beat is written where it is nearest. Swing is a heading
 * over straight notes, and feel is not written. Figures that notes cannot say as one are written stroke by stroke.
 * @param options `percussion`: whether hand percussion is written
 */
export function notationOf(song: Song, { percussion = true } = {}): Notation {
  let struck = struckIn(song);
  if (!percussion) struck = struck.filter(({ stroke }) => !isPercussion(stroke.piece, song.kit));
  const kit = onPaper(song.kit, struck);
  const straight = withoutShuffles(song, struck);
  struck = [...straight.struck];
  const paper = { kit, shuffles: straight.swings };
  const isMoved = new Set<WrittenStroke>();
  let written = barsOf(song, struck, paper);
  // Each stroke is moved once, so that this ends; what it leaves may come to be written in other steps.
  for (;;) {
    const nearer = new Map(
      farOff(written.bars, written.swings).filter(([stroke]) => !isMoved.has(stroke)),
    );
    if (nearer.size === 0) break;
    for (const stroke of nearer.keys()) isMoved.add(stroke);
    struck = inOrder(struck.flatMap((one) => moved(one, nearer)));
    written = barsOf(song, struck, paper);
  }
  return {
    title: song.name,
    bars: written.bars,
    legend: legendOf(struck, kit),
    marks: marksOf(struck, kit),
    percussion: struck.some(({ stroke }) => isPercussion(stroke.piece, kit)),
    kit,
  };
}

/** A kit without the percussion that is not struck, so that what is has the best places around its line. */
function onPaper(kit: Kit, struck: readonly Struck[]): Kit {
  const used = new Set(struck.map(({ stroke }) => stroke.piece));
  const pieces = kit.pieces.filter(({ id }) => used.has(id) || !isPercussion(id, kit));
  return pieces.length === kit.pieces.length ? kit : { ...kit, pieces };
}

/** A stroke at another place; a roll of which a stroke is moved is written stroke by stroke. */
function moved(one: Struck, to: ReadonlyMap<WrittenStroke, Ticks>): Struck[] {
  const strokes = one.roll?.strokes.some(({ stroke }) => to.has(stroke)) ? one.roll.strokes : [one];
  return strokes.map((each) => {
    const home = to.get(each.stroke);
    return home === undefined ? each : { ...each, home };
  });
}

/**
 * The strokes that are written further from where they sound than half the step of the beat they are written
 * in, and of the one they sound in; and where they sound: read straight, where their bar swings.
 */
function farOff(
  bars: readonly NotatedBar[],
  swings: readonly (Swing | undefined)[],
): [WrittenStroke, Ticks][] {
  const far: [WrittenStroke, Ticks][] = [];
  bars.forEach((bar, i) => {
    const length = barTicks(bar.meter);
    for (const voice of VOICES) {
      const chords = bar.voices[voice];
      for (const { at, step, tuplet, struck } of chords) {
        for (const stroke of struck) {
          // Tuplets are read as they stand, under a swing too.
          const swing = tuplet ? undefined : swings[i];
          const sounds = straightened(stroke.tick - bar.start, swing, length);
          const off = Math.abs(sounds - at);
          if (off <= CLOSE || off <= step / 2) continue;
          const there = beatAt(bars, { bar: i, voice, at: sounds });
          if (off <= there.step / 2) continue;
          // On a step that is there: a note that is played freely makes no beat harder to read.
          const steps = Math.round((bar.start + sounds - there.start) / there.step);
          far.push([stroke, there.start + steps * there.step]);
        }
      }
    }
  });
  return far;
}

/** Half a 64th: notes cannot say anything nearer. */
const CLOSE: Ticks = 30;

/** Where a beat begins, and the step it is divided in. The place is counted from a bar, and may lie in the one before or behind it. */
function beatAt(
  bars: readonly NotatedBar[],
  { bar, voice, at }: { bar: number; voice: Voice; at: Ticks },
): { start: Ticks; step: Ticks } {
  const tick = bars[bar].start + at;
  const isBefore = at < 0 && bar > 0;
  const isBehind = bar + 1 < bars.length && tick >= bars[bar + 1].start;
  const { start, voices } = bars[isBefore ? bar - 1 : isBehind ? bar + 1 : bar];
  const chords = voices[voice];
  const { group, step } = chords.findLast((chord) => chord.at <= tick - start) ?? chords[0];
  const first = chords.find((chord) => chord.group === group)!;
  return { start: start + first.at, step };
}

/** The place of the lowest cymbal on a line above the staff. */
const HIGH = aboveMiddle({ step: 'A', octave: 5 });

interface WrittenBars {
  bars: NotatedBar[];
  /** How each bar is to be read. */
  swings: (Swing | undefined)[];
}

function barsOf(
  song: Song,
  struck: readonly Struck[],
  { kit, shuffles }: { kit: Kit; shuffles: Straightened['swings'] },
): WrittenBars {
  const isHigh = ({ piece, articulation }: WrittenStroke) =>
    aboveMiddle(writtenAs(piece, articulation, kit)) >= HIGH;
  const tempos = temposOfSong(song);
  const patterns = new Map(song.patterns.map((pattern) => [pattern.id, pattern]));
  const bars: NotatedBar[] = [];
  const swings: (Swing | undefined)[] = [];
  let next = 0;
  let nextTempo = 0;
  let before: Meter | undefined;
  let swung: Swing | undefined;
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
      const { swing: own, ...played } = playedIn(written, patterns);
      const shuffle = shuffles.get(laid.place.id);
      const swing = shuffle ? { words: saidSwing(shuffle), swing: shuffle } : own;
      const voices = voicesOf(inOrder(written), { begins, meter, kit });
      const changes = swing !== undefined && swing.words !== saidSwing(swung);
      if (swing) swung = swing.swing;
      swings.push(swung);
      bars.push({
        index: bars.length,
        start: begins,
        meter,
        newMeter: !before || !sameMeter(before, meter),
        ...(bar === 0 && { section: section.name, label: placeName(song, laid) }),
        tempos: marks,
        voices,
        shifted: shiftedIn(voices, kit),
        tall:
          voices.hands.some(({ tuplet, struck }) => tuplet && struck.some(isHigh)) ||
          voices.percussion.some(({ tuplet, struck }) => tuplet !== undefined || struck.length > 1),
        deep: voices.feet.some(({ tuplet, base }) => tuplet !== undefined || base >= 32),
        hits: written.length,
        ...(changes && { swing: swing.words }),
        ...played,
      });
      before = meter;
    }
  }
  return { bars, swings };
}

/** The heading of a bar that does not swing, behind one that does. */
const STRAIGHT = 'straight';

const NOTES: Readonly<Record<number, string>> = { 480: 'eighths', 240: 'sixteenths', 120: '32nds' };

/** How notes swing, in words for a heading. */
function saidSwing(swing: Swing | undefined): string {
  if (!swing || swing.percent === 50) return STRAIGHT;
  return `swing ${NOTES[swing.unit] ?? ''}, ${Math.round(swing.percent)} %`.replace(' ,', ',');
}

interface PlayedIn extends Pick<NotatedBar, 'groove' | 'fill'> {
  swing?: { words: string; swing: Swing | undefined };
}

/** The patterns that a bar plays, by name, and how most of it swings. */
function playedIn(struck: readonly Struck[], patterns: ReadonlyMap<string, Pattern>): PlayedIn {
  const counts = new Map<string, number>();
  for (const { pattern } of struck) counts.set(pattern, (counts.get(pattern) ?? 0) + 1);
  let groove: { name: string; hits: number; swing: Swing | undefined } | undefined;
  let fill: string | undefined;
  for (const [id, hits] of counts) {
    const { name, kind, swing } = patterns.get(id)!;
    // The stroke that ends a fill in the next bar makes no fill of that bar.
    if (kind === 'fill') fill ??= hits > struck.length / 4 ? name : undefined;
    else if (!groove || hits > groove.hits) groove = { name, hits, swing };
  }
  return {
    ...(groove && {
      groove: groove.name,
      swing: { words: saidSwing(groove.swing), swing: groove.swing },
    }),
    ...(fill !== undefined && { fill }),
  };
}

interface BarRoom {
  begins: Ticks;
  meter: Meter;
  kit: Kit;
}

function voicesOf(struck: readonly Struck[], room: BarRoom): NotatedBar['voices'] {
  const by: Record<Voice, Struck[]> = { percussion: [], hands: [], feet: [] };
  for (const one of struck) {
    by[voiceOfStroke(one.stroke, room.kit)].push(one);
  }
  return {
    percussion: voiceOf(by.percussion, room),
    hands: voiceOf(by.hands, room),
    feet: voiceOf(by.feet, room),
  };
}

function shiftedIn({ hands, feet }: NotatedBar['voices'], kit: Kit): number {
  const byPlace = new Map(hands.map(({ at, struck }) => [Math.round(at), struck]));
  return feet.filter(({ at, struck }) => touches(byPlace.get(Math.round(at)) ?? [], struck, kit))
    .length;
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

/** Signs at heads, each on the first stroke of the hands that has it, or on the first of all. */
function marksOf(struck: readonly Struck[], kit: Kit): LegendEntry[] {
  const marks = [
    ['ghost', 'Ghost note'],
    ['accent', 'Accent'],
  ] as const;
  return marks.flatMap(([mark, name]) => {
    const marked = struck.filter(({ stroke }) => stroke[mark]);
    const first = marked.find(({ stroke }) => voiceOfStroke(stroke, kit) === 'hands') ?? marked[0];
    return first ? [{ ...entryOf(first.stroke, name, kit), mark }] : [];
  });
}

const voiceOfStroke = ({ piece, articulation }: WrittenStroke, kit: Kit): Voice =>
  writtenAs(piece, articulation, kit).voice;

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
