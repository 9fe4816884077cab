import { clickTicks, sameMeter, type Meter } from '../time';
import type { LegendEntry, NotatedBar, Notation } from './notation';
import { isMarked, repeatsIn } from './repeats';
import { VOICES, writtenAs } from './staff';

/** How much of the notes is on the page. */
export const DENSITIES = ['full', 'cues', 'form'] as const;
export type Density = (typeof DENSITIES)[number];

/** Where hand percussion is written. */
export const PERCUSSIONS = ['line', 'none'] as const;
export type Percussion = (typeof PERCUSSIONS)[number];

/** Paper, in millimetres. Sources: ISO 216; ANSI/ASME Y14.1. */
export const PAPERS = {
  A4: { width: 210, height: 297 },
  Letter: { width: 215.9, height: 279.4 },
} as const;
export type Paper = keyof typeof PAPERS;

export interface ChartWish {
  density: Density;
  paper: Paper;
  /** Hand percussion: on a line of its own above the staff, or left out. */
  percussion: Percussion;
}

/** What stands between two bar lines, or in place of several bars. */
export type Cell = { bar: NotatedBar; bars: number; hits: number } & (
  | { kind: 'notes' }
  | { kind: 'repeat'; like: 1 | 2; half?: 'first' | 'second' }
  | { kind: 'slashes'; says?: string }
  | { kind: 'rest' }
  | { kind: 'form'; says?: string }
);

/** Bars side by side, each with its share of the line. */
export interface System {
  cells: readonly { cell: Cell; width: number }[];
  /** The clef stands at its start; the meter too where the first bar has a new one. */
  lead: number;
  /** Whether there is a line of percussion above its staff. */
  percussion: boolean;
  /** Staff spaces from its top to the top line of its staff, and to the top of the next. */
  head: number;
  height: number;
  /** The meter of the line that follows, where it is another one: it is said at the end of this one. */
  courtesy?: Meter;
}

/** A page of a chart: lengths in staff spaces, the distance between two lines of the staff. */
export interface ChartPage {
  number: number;
  /** The title and the legend stand on the first page. */
  title?: string;
  legend: readonly (readonly LegendEntry[])[];
  systems: readonly System[];
}

/** Measures of a page in staff spaces. */
export interface PageRoom {
  /** Millimetres that a staff space is high. */
  space: number;
  margin: number;
  width: number;
  height: number;
  titleHeight: number;
  legendPitch: number;
}

/** A staff of 6.6 mm, as parts for one player are printed. */
const SPACE_MM = 1.65;

/** Staff spaces that the line of percussion needs above each system. */
export const PERCUSSION_LINE = 8.6;
/** Above the top line of a staff: section, tempo and stems; and the staff with what is below it. */
const HEAD = 9.4;
const STAFF = 8.9;
/** Added for a system whose bars are tall or deep. */
const FAR = 2;
/** Taken by title and number on a page that is not the first. */
export const PAGE_HEAD = 3;

export function roomOn(paper: Paper): PageRoom {
  const { width, height } = PAPERS[paper];
  return {
    space: SPACE_MM,
    margin: 12.5 / SPACE_MM,
    width: width / SPACE_MM,
    height: height / SPACE_MM,
    titleHeight: 9,
    legendPitch: 17.6,
  };
}

/** Staff spaces that a moment of a bar needs, a bar itself, and what stands at the ends of a line. */
const PER_MOMENT = 2.35;
const PER_GRACE = 1.6;
const PER_BRACKETS = 1.2;
const PER_SHIFT = 1.4;
const PER_DOT = 0.6;
const PER_SHORT_REST = 0.9;
const BAR = 3.6;
const SIGN = 8;
const SLASHES = 11;
const PER_SLASH = 3;
const REST = 14;
const FORM = 24;
const CLEF = 4.4;
export const METER = 3.2;
const LEGEND_ENTRY = 12;

/**
 * Sets a song on pages: a section begins a line, four bars of it are one where they fit, and a page ends between lines.
 * @returns one page at least
 */
export function pagesOf(
  notation: Notation,
  { density, paper }: Pick<ChartWish, 'density' | 'paper'>,
): ChartPage[] {
  const room = roomOn(paper);
  const line = room.width - 2 * room.margin;
  const systems = systemsOf(cellsOf(notation, density), line);
  const legend =
    density === 'form'
      ? []
      : rowsOf([...notation.legend, ...notation.marks], Math.floor(line / LEGEND_ENTRY));
  const above = (first: boolean) =>
    first ? room.titleHeight + legend.length * room.legendPitch : PAGE_HEAD;
  const below = (first: boolean) => room.height - 2 * room.margin - above(first);
  return turnsOf(systems, below(true), below(false)).map(([from, to], n) => ({
    number: n + 1,
    ...(n === 0 && { title: notation.title }),
    legend: n === 0 ? legend : [],
    systems: systems.slice(from, to),
  }));
}

/** Costs of a page, of a turn while something is played, and of a last page that is three quarters empty. */
const PAGE_COST = 12;
const TURN_COST = 5;
const EMPTY_COST = 10;

/**
 * Where pages are turned: where a section ends or a bar is a rest, on as few pages as can be, and not so that hardly
 * anything is left for the last. The least total over all ways to turn.
 * @param first staff spaces for systems on the first page
 * @param later and on the others
 * @returns the first system of each page, and the one after its last
 */
function turnsOf(
  systems: readonly System[],
  first: number,
  later: number,
): (readonly [from: number, to: number])[] {
  interface Way {
    cost: number;
    from: number;
  }
  /** The best way to end a page before each system, and where that page begins. */
  const best: Way[] = [{ cost: 0, from: 0 }];
  const end = systems.length;
  for (let to = 1; to <= end; to++) {
    best[to] = { cost: Infinity, from: to - 1 };
    let used = 0;
    for (let from = to - 1; from >= 0; from--) {
      used += systems[from].height;
      const room = from === 0 ? first : later;
      if (used > room && to - from > 1) break;
      const empty = Math.max(0, room - used) / room;
      const isLast = to === end;
      const turn = isLast || canTurn(systems[to - 1], systems[to]) ? 0 : TURN_COST;
      const last = isLast && from > 0 && empty > 0.75 ? EMPTY_COST : 0;
      const cost = best[from].cost + PAGE_COST + turn + last + (isLast ? 0 : empty * empty);
      if (cost < best[to].cost) best[to] = { cost, from };
    }
  }
  const pages: (readonly [number, number])[] = [];
  for (let to = end; to > 0; to = best[to].from) pages.unshift([best[to].from, to]);
  return pages.length > 0 ? pages : [[0, 0]];
}

/** Whether a player has a hand for the page between two lines. */
const canTurn = (before: System, after: System): boolean =>
  after.cells[0].cell.bar.section !== undefined || before.cells.at(-1)!.cell.kind === 'rest';

function rowsOf<T>(list: readonly T[], wide: number): T[][] {
  const rows = Math.ceil(list.length / wide);
  const each = Math.ceil(list.length / rows);
  return Array.from({ length: rows }, (_, i) => list.slice(i * each, (i + 1) * each));
}

/** What each bar is on the page. */
function cellsOf(notation: Notation, density: Density): Cell[] {
  if (density === 'form') return formOf(notation);
  const repeats = repeatsIn(notation);
  const played = density === 'cues' ? cuesIn(notation) : undefined;
  const cells: Cell[] = [];
  for (const bar of notation.bars) {
    const last = cells.at(-1);
    const repeat = repeats.get(bar.index);
    const cue = played?.get(bar.index);
    const one = { bar, bars: 1, hits: bar.hits };
    if (bar.hits === 0) {
      const goesOn = !isMarked(bar);
      if (last?.kind === 'rest' && goesOn) last.bars++;
      else cells.push({ kind: 'rest', bar, bars: 1, hits: 0 });
    } else if (cue) cells.push({ kind: 'slashes', ...one, ...cue });
    else if (repeat && !played) cells.push({ kind: 'repeat', ...one, ...repeat });
    else cells.push({ kind: 'notes', ...one });
  }
  return cells;
}

/** The form: stretches of played bars and of rests, from one change of section, meter or tempo to the next. */
function formOf({ bars }: Notation): Cell[] {
  const cells: Cell[] = [];
  for (const bar of bars) {
    const last = cells.at(-1);
    const kind = bar.hits === 0 ? 'rest' : 'form';
    if (last?.kind === kind && !isMarked(bar)) {
      last.bars++;
      last.hits += bar.hits;
      continue;
    }
    const one = { bar, bars: 1, hits: bar.hits };
    const says = bar.groove ?? bar.fill;
    if (kind === 'rest') cells.push({ kind, ...one });
    else cells.push({ kind, ...one, ...(says !== undefined && { says }) });
  }
  return cells;
}

/** Bars this much alike are one groove to a drummer who reads along. */
const ALIKE = 0.7;

/**
 * The bars that need no notes: they go on as bars that were written out in their section, or as a section of
 * the same name was. Fills are always written.
 */
function cuesIn({ bars, kit }: Notation): Map<number, { says?: string }> {
  const strokes = bars.map(
    ({ voices }) =>
      new Set(
        VOICES.flatMap((voice) => voices[voice]).flatMap(({ at, struck }) =>
          struck
            .filter(({ ghost }) => !ghost)
            .map(({ piece, articulation }) => {
              const { step, octave, head } = writtenAs(piece, articulation, kit);
              return `${at} ${step}${octave} ${head}`;
            }),
        ),
      ),
  );
  const cues = new Map<number, { says?: string }>();
  /** Where the last section of each name began. */
  const known = new Map<string, number>();
  let written: number[] = [];
  let begun = 0;
  let before: { name: string; start: number } | undefined;
  bars.forEach((bar, i) => {
    if (bar.section !== undefined) {
      written = [];
      begun = i;
      const start = known.get(bar.section);
      before = start === undefined ? undefined : { name: bar.section, start };
      known.set(bar.section, i);
    }
    if (bar.hits === 0) return;
    const as = before && before.start + (i - begun);
    const asBefore =
      as !== undefined &&
      as < begun &&
      bars[as].hits > 0 &&
      sameMeter(bars[as].meter, bar.meter) &&
      likeness(strokes[as], strokes[i]) >= (bar.fill === undefined ? ALIKE : 0.95);
    if (asBefore) {
      cues.set(i, i === begun ? { says: 'as before' } : {});
    } else if (
      bar.fill === undefined &&
      written.some((other) => likeness(strokes[other], strokes[i]) >= ALIKE)
    ) {
      cues.set(i, {});
    } else written.push(i);
  });
  return cues;
}

/** The share of strokes that two bars have in common, of all that either has. */
function likeness(a: ReadonlySet<string>, b: ReadonlySet<string>): number {
  let both = 0;
  for (const one of a) if (b.has(one)) both++;
  const either = a.size + b.size - both;
  return either === 0 ? 1 : both / either;
}

function widthOf(cell: Cell): number {
  const meter = cell.bar.newMeter ? METER : 0;
  if (cell.kind === 'repeat') return SIGN + meter;
  if (cell.kind === 'slashes') {
    return Math.max(SLASHES, PER_SLASH * clickTicks(cell.bar.meter).length) + meter;
  }
  if (cell.kind === 'rest') return (cell.bars > 1 ? REST : SIGN) + meter;
  if (cell.kind === 'form') return FORM + meter;
  const chords = VOICES.flatMap((voice) => cell.bar.voices[voice]);
  const moments = new Set(chords.map(({ at }) => Math.round(at)));
  const struck = chords.flatMap((chord) => chord.struck);
  const graces = struck.reduce((sum, { graces }) => sum + graces.length, 0);
  const brackets = chords.filter(({ struck }) => struck.some(({ ghost }) => ghost));
  const dots = chords.filter((chord) => chord.dots > 0);
  const rests = chords.filter(({ struck, base }) => struck.length === 0 && base >= 32);
  const beside = cell.bar.voices.percussion.filter(({ struck }) => struck.length > 1);
  return (
    BAR +
    meter +
    PER_MOMENT * moments.size +
    PER_GRACE * graces +
    PER_BRACKETS * brackets.length +
    PER_SHIFT * (cell.bar.shifted + beside.length) +
    PER_DOT * dots.length +
    PER_SHORT_REST * rests.length
  );
}

/** Whether a line of percussion is drawn over a cell. */
const hasPercussion = ({ kind, bar }: Cell): boolean =>
  (kind === 'notes' || kind === 'repeat') &&
  bar.voices.percussion.some(({ struck }) => struck.length > 0);

const has = (cells: readonly Cell[], what: 'tall' | 'deep'): boolean =>
  cells.some(({ kind, bar }) => kind === 'notes' && bar[what]);

/** Bars may be set this much narrower than they are comfortable, so that a phrase is one line. */
const TIGHTEST = 0.85;
/** Bars of a line, where they fit: phrases are of four and eight. */
const PHRASE = 4;

/** Lines of bars. Each section begins one; one that is nearly full is spread to the margin. */
function systemsOf(cells: readonly Cell[], line: number): System[] {
  const lines = linesOf(cells, line - CLEF);
  return lines.map((open, n) => {
    const next = lines[n + 1]?.[0].bar;
    const courtesy = next?.newMeter ? next.meter : undefined;
    const room = line - CLEF - (courtesy ? METER : 0);
    const widths = open.map(widthOf);
    const used = widths.reduce((sum, width) => sum + width, 0);
    const stretch = used > room || used >= 0.5 * room ? room / used : Math.min(1.35, room / used);
    const percussion = open.some(hasPercussion);
    const head = HEAD + (percussion ? PERCUSSION_LINE : 0) + (has(open, 'tall') ? FAR : 0);
    return {
      lead: CLEF,
      percussion,
      head,
      height: head + STAFF + (has(open, 'deep') ? FAR : 0),
      cells: open.map((cell, i) => ({ cell, width: widths[i] * stretch })),
      ...(courtesy && { courtesy }),
    };
  });
}

/** The bars of each line: those of a form as many as fit, others by phrases of their section. */
function linesOf(cells: readonly Cell[], room: number): Cell[][] {
  const lines: Cell[][] = [];
  let section: Cell[] = [];
  const close = () => {
    if (section.length > 0) lines.push(...linesOfSection(section, room));
    section = [];
  };
  const isForm = cells.some(({ kind }) => kind === 'form');
  for (const cell of cells) {
    if (cell.bar.section !== undefined && !isForm) close();
    section.push(cell);
  }
  if (!isForm) close();
  else lines.push(...filled(section, room));
  return lines;
}

/** As many cells on a line as fit. */
function filled(cells: readonly Cell[], room: number): Cell[][] {
  const lines: Cell[][] = [];
  let used = Infinity;
  for (const cell of cells) {
    const width = widthOf(cell);
    if (used + width > room) {
      lines.push([]);
      used = 0;
    }
    lines.at(-1)!.push(cell);
    used += width;
  }
  return lines;
}

/** Four bars on a line where they fit, or two, or one: counted from where the section begins. */
function linesOfSection(cells: readonly Cell[], room: number): Cell[][] {
  const begun: number[] = [];
  let bars = 0;
  for (const cell of cells) {
    begun.push(bars);
    bars += cell.bars;
  }
  const lines: Cell[][] = [];
  const group = (from: number, to: number, size: number): void => {
    for (let first = from, end = from; first < to; first = end) {
      const phrase = Math.floor(begun[first] / size);
      while (end < to && Math.floor(begun[end] / size) === phrase) end++;
      const line = writtenOut(cells.slice(first, end));
      const width = line.reduce((sum, cell) => sum + widthOf(cell), 0);
      if (width * TIGHTEST <= room || line.length === 1 || size === 1) lines.push(line);
      else group(first, end, size / 2);
    }
  };
  group(0, cells.length, PHRASE);
  return lines;
}

/** A line that begins with notes: no sign on it is for bars of the line before. */
function writtenOut(line: readonly Cell[]): Cell[] {
  const asNotes = ({ bar, bars, hits }: Cell): Cell => ({ kind: 'notes', bar, bars, hits });
  return line.map((cell, i) => {
    if (cell.kind !== 'repeat') return cell;
    // A sign for one bar has the bar before it on the line; one for two bars has two, and both of its halves.
    if (cell.like === 1) return i === 0 ? asNotes(cell) : cell;
    const first = cell.half === 'first' ? i : i - 1;
    const other = line[cell.half === 'first' ? i + 1 : i - 1];
    const isWhole = other?.kind === 'repeat' && other.like === 2 && other.half !== cell.half;
    return first >= 2 && isWhole ? cell : asNotes(cell);
  });
}
