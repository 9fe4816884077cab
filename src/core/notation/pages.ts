import { sameMeter } from '../time';
import type { LegendEntry, NotatedBar, Notation } from './notation';
import { isMarked, repeatsIn } from './repeats';
import { writtenAs } from './staff';

/** How much of the notes is on the page. */
export const DENSITIES = ['full', 'cues', 'form'] as const;
export type Density = (typeof DENSITIES)[number];

/** Paper, in millimetres. Sources: ISO 216; ANSI/ASME Y14.1. */
export const PAPERS = {
  A4: { width: 210, height: 297 },
  Letter: { width: 215.9, height: 279.4 },
} as const;
export type Paper = keyof typeof PAPERS;

export interface ChartWish {
  density: Density;
  paper: Paper;
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
  /** From the top line of a system to that of the next. */
  pitch: number;
  titleHeight: number;
  legendPitch: number;
}

/** A staff of 6.6 mm, as parts for one player are printed. */
const SPACE_MM = 1.65;

export function roomOn(paper: Paper): PageRoom {
  const { width, height } = PAPERS[paper];
  return {
    space: SPACE_MM,
    margin: 15 / SPACE_MM,
    width: width / SPACE_MM,
    height: height / SPACE_MM,
    pitch: 17.6,
    titleHeight: 9,
    legendPitch: 12.5,
  };
}

/** Staff spaces that a moment of a bar needs, a bar itself, and what stands at the start of a line. */
const PER_MOMENT = 2.35;
const PER_GRACE = 1.6;
const PER_BRACKETS = 1.2;
const BAR = 3.6;
const SIGN = 8;
const SLASHES = 11;
const REST = 14;
const FORM = 24;
const CLEF = 4.4;
const METER = 3.2;
const LEGEND_ENTRY = 12;

/**
 * Sets a song on pages: a section begins a line, lines are filled evenly, and a page ends between lines.
 * @returns one page at least
 */
export function pagesOf(notation: Notation, { density, paper }: ChartWish): ChartPage[] {
  const room = roomOn(paper);
  const line = room.width - 2 * room.margin;
  const systems = systemsOf(cellsOf(notation, density), line);
  const legend = density === 'form' ? [] : rowsOf(notation.legend, Math.floor(line / LEGEND_ENTRY));
  const pages: ChartPage[] = [];
  let rest = systems;
  do {
    const first = pages.length === 0;
    const above = first ? room.titleHeight + legend.length * room.legendPitch : 2;
    const fits = Math.max(1, Math.floor((room.height - 2 * room.margin - above) / room.pitch));
    pages.push({
      number: pages.length + 1,
      ...(first && { title: notation.title }),
      legend: first ? legend : [],
      systems: rest.slice(0, fits),
    });
    rest = rest.slice(fits);
  } while (rest.length > 0);
  return pages;
}

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

/** Sections as so many bars of what is played in them, from one change of meter or tempo to the next. */
function formOf({ bars }: Notation): Cell[] {
  const cells: Cell[] = [];
  for (const bar of bars) {
    const last = cells.at(-1);
    const goesOn = !isMarked(bar);
    if (last && goesOn) {
      last.bars++;
      last.hits += bar.hits;
    } else {
      const says = bar.groove ?? (bar.hits === 0 ? 'silent' : bar.fill);
      cells.push({
        kind: 'form',
        bar,
        bars: 1,
        hits: bar.hits,
        ...(says !== undefined && { says }),
      });
    }
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
        [...voices.hands, ...voices.feet].flatMap(({ at, struck }) =>
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
  if (cell.kind === 'slashes') return SLASHES + meter;
  if (cell.kind === 'rest') return (cell.bars > 1 ? REST : SIGN) + meter;
  if (cell.kind === 'form') return FORM + meter;
  const { hands, feet } = cell.bar.voices;
  const moments = new Set([...hands, ...feet].map(({ at }) => Math.round(at)));
  const struck = [...hands, ...feet].flatMap((chord) => chord.struck);
  const graces = struck.reduce((sum, { graces }) => sum + graces.length, 0);
  const brackets = [...hands, ...feet].filter(({ struck }) => struck.some(({ ghost }) => ghost));
  return (
    BAR + meter + PER_MOMENT * moments.size + PER_GRACE * graces + PER_BRACKETS * brackets.length
  );
}

/** Lines of bars. Each section begins one; one that is nearly full is spread to the margin. */
function systemsOf(cells: readonly Cell[], line: number): System[] {
  const systems: System[] = [];
  let open: { cell: Cell; width: number }[] = [];
  let used = 0;
  const close = () => {
    if (open.length === 0) return;
    const room = line - CLEF;
    const stretch = used > room || used >= 0.62 * room ? room / used : Math.min(1.35, room / used);
    systems.push({
      lead: CLEF,
      cells: open.map(({ cell, width }) => ({ cell, width: width * stretch })),
    });
    open = [];
    used = 0;
  };
  for (const cell of cells) {
    const width = widthOf(cell);
    // The two halves of a sign for two bars stay together.
    const second = cell.kind === 'repeat' && cell.half === 'second';
    const full =
      used + width + (cell.kind === 'repeat' && cell.half === 'first' ? SIGN : 0) > line - CLEF;
    const begins = cell.bar.section !== undefined && cell.kind !== 'form';
    if (!second && (begins || full)) close();
    open.push({ cell, width });
    used += width;
  }
  close();
  return systems;
}
