import {
  BarlineType,
  Font,
  Formatter,
  Renderer,
  Stave,
  VexFlow,
  Voice,
  type RenderContext,
} from 'vexflow/core';
import {
  METER,
  PAGE_HEAD,
  PERCUSSION_LINE,
  roomOn,
  type Cell,
  type ChartPage,
  type Notation,
  type PageRoom,
  type Paper,
  type System,
  type Voice as Part,
} from '@/core/notation';
import { barTicks, clickTicks, PPQ, pulseTicks } from '@/core/time';
import { INK, LETTERS, SIGNS, SOFT } from './letters';
import { singleNote, topOf, voicesOf } from './notes';

/** A staff space in the engraver's own units. */
const SPACE = 10;
const BLANK_LINES = 4;

/** Signs of the musical font (SMuFL). */
const SIGN = {
  slash: '\uE101',
  repeat1: '\uE500',
  repeat2: '\uE501',
  wholeRest: '\uE4E3',
  quarter: '\uECA5',
  dot: '\uE1E7',
  digit: (n: number) =>
    [...String(n)].map((d) => String.fromCodePoint(0xe080 + Number(d))).join(''),
};

/** Where the musical font lies, for the page and for files that take it along. */
export const fontUrl = () => new URL('@vexflow-fonts/bravura/bravura.woff2', import.meta.url).href;

let ready: Promise<void> | undefined;

/** The signs have to be there before anything is measured. */
export function readyToDraw(): Promise<void> {
  ready ??= Promise.all([
    Font.load(SIGNS, fontUrl(), { display: 'block' }),
    document.fonts.ready,
  ]).then(() => VexFlow.setFonts(SIGNS));
  return ready;
}

/** Draws a page into an element, as an SVG in millimetres. */
export function drawPage(
  into: HTMLDivElement,
  page: ChartPage,
  notation: Notation,
  paper: Paper,
): void {
  const room = roomOn(paper);
  const [width, height] = [room.width * SPACE, room.height * SPACE];
  const renderer = new Renderer(into, Renderer.Backends.SVG).resize(width, height);
  const ctx = renderer.getContext();
  const svg = into.lastElementChild as SVGSVGElement;
  svg.setAttribute('viewBox', `0 0 ${width} ${height}`);
  // As large as the paper, and not as many pixels as there are units.
  svg.removeAttribute('style');
  svg.setAttribute('width', `${Number((room.width * room.space).toFixed(2))}mm`);
  svg.setAttribute('height', `${Number((room.height * room.space).toFixed(2))}mm`);
  svg.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  svg.setAttribute('role', 'img');
  svg.setAttribute('aria-label', `${notation.title}, page ${page.number}`);
  drawOn(ctx, page, notation, room);
}

/** Draws a page in the engraver's own units. */
export function drawOn(
  ctx: RenderContext,
  page: ChartPage,
  notation: Notation,
  room: PageRoom,
): void {
  const width = room.width * SPACE;
  ctx.setFillStyle(INK).setStrokeStyle(INK);
  const left = room.margin * SPACE;
  let top = left;
  if (page.title !== undefined) {
    words(ctx, page.title, left, top + 26, { size: 28, weight: '600' });
    top += room.titleHeight * SPACE;
    for (const row of page.legend) {
      drawLegend(ctx, row, { notation, left, top, wide: width - 2 * left });
      top += room.legendPitch * SPACE;
    }
  } else {
    words(ctx, `${notation.title}, ${page.number}`, left, top - SPACE, { size: 11, fill: SOFT });
    top += PAGE_HEAD * SPACE;
  }
  page.systems.forEach((system, i) => {
    const after = page.systems[i + 1]?.cells[0].cell;
    drawSystem(ctx, system, { notation, left, top, after });
    top += system.height * SPACE;
  });
}

interface Style {
  size: number;
  weight?: string;
  fill?: string;
  font?: string;
  align?: 'left' | 'middle';
}

/** Letters at a place, `y` their foot. */
function words(ctx: RenderContext, said: string, x: number, y: number, style: Style): void {
  const width = widthOf(ctx, said, style);
  ctx.save();
  setStyle(ctx, style);
  ctx.setFillStyle(style.fill ?? INK);
  ctx.fillText(said, style.align === 'middle' ? x - width / 2 : x, y);
  ctx.restore();
}

function widthOf(ctx: RenderContext, said: string, style: Style): number {
  ctx.save();
  setStyle(ctx, style);
  const { width } = ctx.measureText(said);
  ctx.restore();
  return width;
}

const setStyle = (ctx: RenderContext, { font = LETTERS, size, weight = 'normal' }: Style) =>
  ctx.setFont(font, `${size}px`, weight);

const sign = (
  ctx: RenderContext,
  said: string,
  x: number,
  y: number,
  align: Style['align'] = 'left',
) => words(ctx, said, x, y, { size: 4 * SPACE, font: SIGNS, align });

interface At {
  notation: Notation;
  left: number;
  top: number;
}

/** Names stand below the stems of what feet strike. */
const LEGEND_NAMES = 13;

/** What each head stands for: a short staff with it, and its name below. */
function drawLegend(
  ctx: RenderContext,
  row: ChartPage['legend'][number],
  { notation, left, top, wide }: At & { wide: number },
): void {
  const each = wide / Math.max(row.length, 7);
  row.forEach(({ piece, articulation, name, mark, voice }, i) => {
    const x = left + i * each;
    const stave = new Stave(x, top - SPACE, each, {
      leftBar: i === 0,
      rightBar: i === row.length - 1,
    });
    if (voice === 'percussion') stave.setConfigForLines(ONE_LINE);
    stave.setContext(ctx).draw();
    const stroke = {
      piece,
      articulation,
      velocity: 90,
      tick: 0,
      ghost: mark === 'ghost',
      accent: mark === 'accent',
      graces: [],
    };
    const note = singleNote(stroke, notation.kit);
    const alone = new Voice({ numBeats: 1, beatValue: 4 }).addTickables([note]);
    new Formatter().joinVoices([alone]).format([alone], 10);
    // Parentheses and accents go along with where notes begin, not with a shift of the note.
    stave.setNoteStartX(stave.getNoteStartX() + each / 2 - 26);
    alone.draw(ctx, stave);
    const lines = name.split(', ');
    lines.forEach((line, n) =>
      words(ctx, line, x + each / 2, top + LEGEND_NAMES * SPACE + n * 12, {
        size: 11,
        align: 'middle',
        fill: n === 0 ? INK : SOFT,
      }),
    );
  });
}

function drawSystem(
  ctx: RenderContext,
  { cells, lead, percussion, head, courtesy }: System,
  { notation, left, top, after }: At & { after: Cell | undefined },
): void {
  const above = percussion ? PERCUSSION_LINE : 0;
  const y = top + (head - BLANK_LINES) * SPACE;
  const named = new Map<Part, string>();
  let x = left;
  cells.forEach(({ cell, width }, i) => {
    const first = i === 0;
    // At the end of a line stands the meter that the next one begins with.
    const told = i === cells.length - 1 ? courtesy : undefined;
    const wide = (width + (first ? lead : 0) + (told ? METER : 0)) * SPACE;
    const stave = new Stave(x, y, wide, { leftBar: false });
    if (first) stave.addClef('percussion');
    if (cell.bar.newMeter) {
      stave.addTimeSignature(`${cell.bar.meter.beats}/${cell.bar.meter.unit}`);
    }
    const next = cells[i + 1]?.cell ?? after;
    const end = cell.bar.index + cell.bars >= notation.bars.length;
    const section = next?.bar.section !== undefined;
    stave.setEndBarType(end ? BarlineType.END : section ? BarlineType.DOUBLE : BarlineType.SINGLE);
    if (told) stave.addEndTimeSignature(`${told.beats}/${told.unit}`);
    stave.setContext(ctx).draw();
    const line = percussion ? percussionLine(stave, { first }) : undefined;
    line?.setContext(ctx).draw();
    if (line) {
      const end = line.getX() + line.getWidth();
      ctx.fillRect(end - 1, line.getYForLine(2) - SPACE, 1, 2 * SPACE);
    }
    const topBefore = drawCell(ctx, cell, { stave, line, named }, notation);
    drawHead(ctx, cell, { x, stave, first, above, topBefore });
    x += wide;
  });
}

/** Spaces from the top line of the staff up to the line of percussion. */
const LINE_ABOVE = 8.4;

/** The line of percussion over a bar, as long as the staff below it. */
function percussionLine(stave: Stave, { first }: { first: boolean }): Stave {
  const y = stave.getY() - (LINE_ABOVE + 2) * SPACE;
  const line = new Stave(stave.getX(), y, stave.getWidth(), { leftBar: false, rightBar: false });
  line.setConfigForLines(ONE_LINE);
  if (first) line.addClef('percussion');
  return line.setNoteStartX(stave.getNoteStartX());
}

/** The middle one of five lines. */
const ONE_LINE = [0, 1, 2, 3, 4].map((line) => ({ visible: line === 2 }));

interface Head {
  x: number;
  stave: Stave;
  first: boolean;
  /** Staff spaces that a line of percussion takes. */
  above: number;
  /** Where the highest of the bar's notes ends that begin before this. */
  topBefore: (x: number) => number;
}

/** Above a bar: the name of a section that begins, the tempo, that it is a fill, and the number of the bar. */
function drawHead(ctx: RenderContext, cell: Cell, { x, stave, first, above, topBefore }: Head) {
  const { label, index } = cell.bar;
  if (first) {
    words(ctx, String(index + 1), x, stave.getYForLine(0) - 7, { size: 10, fill: SOFT });
  }
  const said = saidAbove(ctx, cell, { x, stave });
  const end = Math.max(x, ...said.map(({ right }) => right));
  const y = Math.min(stave.getYForLine(0) - (above + 7.2) * SPACE, topBefore(end) - 1.4 * SPACE);
  for (const { at, text, style } of said) words(ctx, text, at, y, style);
  if (label === undefined) return;
  const [{ at, right }] = said;
  ctx.save();
  ctx.setLineWidth(1.2);
  ctx.beginPath();
  ctx.rect(at - FRAME, y - 15, right - at + 2 * FRAME, 21);
  ctx.stroke();
  ctx.restore();
}

/** From the frame of a section's name to its letters. */
const FRAME = 6;

interface Said {
  at: number;
  right: number;
  text: string;
  style: Style;
}

/** The words above a bar from the left, the name of its section first. */
function saidAbove(
  ctx: RenderContext,
  { bar, kind }: Cell,
  { x, stave }: { x: number; stave: Stave },
): Said[] {
  const said: Said[] = [];
  let next = x;
  const say = (text: string, style: Style, gap: number) => {
    const right = next + widthOf(ctx, text, style);
    said.push({ at: next, right, text, style });
    next = right + gap;
  };
  if (bar.label !== undefined) {
    next += FRAME;
    say(bar.label, { size: 14, weight: '600' }, 18);
  }
  const [from, to] = [stave.getNoteStartX(), stave.getNoteEndX()];
  const length = barTicks(bar.meter);
  for (const { at, bpm: counted, glide } of bar.tempos) {
    // A tempo inside a bar stands over where it begins.
    if (at > 0) next = Math.max(next, from + (at / length) * (to - from));
    const dotted = pulseTicks(bar.meter) === 1.5 * PPQ;
    const bpm = Math.round((dotted ? counted / 1.5 : counted) * 10) / 10;
    say(SIGN.quarter, { size: 25, font: SIGNS }, dotted ? 1 : 4);
    if (dotted) say(SIGN.dot, { size: 40, font: SIGNS }, 5);
    say(`= ${bpm}${glide ? ', changing' : ''}`, { size: 13 }, 14);
  }
  if (bar.swing !== undefined) say(bar.swing, { size: 13 }, 14);
  if (kind === 'notes' && bar.fill !== undefined) say('fill', { size: 12, fill: SOFT }, 14);
  return said;
}

interface OnLine {
  stave: Stave;
  /** The line of percussion above it. */
  line: Stave | undefined;
  /** By voice, the pieces whose letters were last set on this line. */
  named: Map<Part, string>;
}

/** @returns where the highest of its notes ends that begin before a place; Infinity where none goes above the staff */
function drawCell(
  ctx: RenderContext,
  cell: Cell,
  { stave, line: percussion, named }: OnLine,
  { kit }: Notation,
): (x: number) => number {
  const from = stave.getNoteStartX();
  const to = stave.getNoteEndX();
  const middle = (from + to) / 2;
  const line = stave.getYForLine(2);
  const lines = [line, ...(percussion ? [percussion.getYForLine(2)] : [])];
  switch (cell.kind) {
    case 'notes': {
      const drawn = voicesOf(cell.bar, kit, named);
      if (percussion && drawn.every(({ part }) => part !== 'percussion')) {
        sign(ctx, SIGN.wholeRest, middle, percussion.getYForLine(2), 'middle');
      }
      const voices = drawn.map(({ voice }) => voice);
      const formatter = new Formatter();
      voices.forEach((voice) => formatter.joinVoices([voice]));
      formatter.format(voices, Math.max(20, to - from - 1.6 * SPACE));
      keepApart(formatter, to - from - 1.6 * SPACE);
      drawn.forEach(({ voice, beams, part }) => {
        const on = (part === 'percussion' ? percussion : undefined) ?? stave;
        for (const note of voice.getTickables()) note.setStave(on);
        // Beams lengthen stems: what stands above stems has to know before it is drawn.
        beams.forEach((beam) => beam.postFormat());
        voice.draw(ctx, on);
      });
      drawn.forEach(({ beams, tuplets }) => {
        beams.forEach((beam) => beam.setContext(ctx).draw());
        tuplets.forEach((tuplet) => tuplet.setContext(ctx).draw());
      });
      return (x) => Math.min(...drawn.map((one) => topOf(one, x)));
    }
    case 'repeat':
      if (cell.like === 1) lines.forEach((y) => sign(ctx, SIGN.repeat1, middle, y, 'middle'));
      else if (cell.half === 'second') {
        lines.forEach((y) => sign(ctx, SIGN.repeat2, stave.getX(), y, 'middle'));
        words(ctx, '2', stave.getX(), stave.getYForLine(0) - 8, { size: 12, align: 'middle' });
      }
      break;
    case 'slashes': {
      const beats = clickTicks(cell.bar.meter).length;
      const each = (to - from - SPACE) / beats;
      for (let beat = 0; beat < beats; beat++) {
        sign(ctx, SIGN.slash, from + (beat + 0.5) * each, line, 'middle');
      }
      if (cell.says)
        words(ctx, cell.says, from, stave.getYForLine(4) + 2.4 * SPACE, { size: 11, fill: SOFT });
      break;
    }
    case 'rest':
      if (cell.bars === 1) sign(ctx, SIGN.wholeRest, middle, stave.getYForLine(1), 'middle');
      else drawBlock(ctx, cell.bars, { from, to, stave });
      break;
    case 'form':
      for (let slash = 0; slash < SLASHES; slash++) {
        const at = from + ((slash + 0.5) * (to - from)) / SLASHES;
        sign(ctx, SIGN.slash, at, line, 'middle');
      }
      sign(ctx, SIGN.digit(cell.bars), middle, stave.getYForLine(0) - 1.6 * SPACE, 'middle');
      if (cell.says) {
        words(ctx, cell.says, middle, stave.getYForLine(4) + 2.6 * SPACE, {
          size: 12,
          align: 'middle',
          fill: SOFT,
        });
      }
      break;
  }
  return () => Infinity;
}

/** Heads of two voices that follow each other closely: the formatter only keeps those of one voice apart. */
function keepApart(formatter: Formatter, end: number): void {
  const { list, map } = formatter.getTickContexts()!;
  const contexts = list.map((tick) => map[tick]);
  const left = (at: number) => contexts[at]?.getMetrics().totalLeftPx ?? 0;
  const right = (at: number) => {
    const { notePx, modRightPx } = contexts[at].getMetrics();
    return notePx + modRightPx + 1;
  };
  contexts.forEach((context, i) => {
    const least = i === 0 ? -Infinity : contexts[i - 1].getX() + right(i - 1) + left(i);
    if (context.getX() < least) context.setX(least);
  });
  // Notes that come to stand behind the end go back, and those before them as far as they must.
  const last = contexts.at(-1)!;
  const tail = last.getWidth() - last.getMetrics().totalLeftPx - right(contexts.length - 1);
  for (let i = contexts.length - 1, most = end - Math.max(0, tail); i >= 0; i--) {
    most -= right(i);
    if (contexts[i].getX() <= most) break;
    contexts[i].setX(most);
    most -= left(i);
  }
}

/** Slashes that stand for the bars of a part of the form, however many those are. */
const SLASHES = 4;

/** Several bars as one: a bar across the staff with their number above. */
function drawBlock(
  ctx: RenderContext,
  bars: number,
  { from, to, stave }: { from: number; to: number; stave: Stave },
): void {
  const line = stave.getYForLine(2);
  const inset = Math.min(2 * SPACE, (to - from) / 4);
  ctx.save();
  ctx.setFillStyle(INK);
  ctx.fillRect(from + inset, line - 0.4 * SPACE, to - from - 2 * inset, 0.8 * SPACE);
  for (const x of [from + inset, to - inset]) ctx.fillRect(x - 0.8, line - SPACE, 1.6, 2 * SPACE);
  ctx.restore();
  sign(ctx, SIGN.digit(bars), (from + to) / 2, stave.getYForLine(0) - 1.6 * SPACE, 'middle');
}
