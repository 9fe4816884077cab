import {
  BarlineType,
  Font,
  Formatter,
  Renderer,
  Stave,
  Stem,
  VexFlow,
  Voice,
  type RenderContext,
} from 'vexflow/core';
import {
  METER,
  roomOn,
  type Cell,
  type ChartPage,
  type Notation,
  type Paper,
  type System,
} from '@/core/notation';
import { barTicks, clickTicks, PPQ, pulseTicks } from '@/core/time';
import { INK, LETTERS, SIGNS, SOFT } from './letters';
import { singleNote, voicesOf } from './notes';

/** A staff space in the engraver's own units. */
const SPACE = 10;
/** Above the top line of a system: section, tempo and stems. */
const ABOVE = 8.8;
const BLANK_LINES = 4;

/** Signs of the musical font (SMuFL). */
const SIGN = {
  slash: '\uE101',
  repeat1: '\uE500',
  repeat2: '\uE501',
  wholeRest: '\uE4E3',
  quarter: '\uECA5',
  dot: '\uECB7',
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
    words(ctx, `${notation.title}, ${page.number}`, left, top, { size: 11, fill: SOFT });
    top += 2 * SPACE;
  }
  page.systems.forEach((system, i) => {
    const after = page.systems[i + 1]?.cells[0].cell;
    drawSystem(ctx, system, { notation, left, top: top + i * room.pitch * SPACE, after });
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
function words(ctx: RenderContext, said: string, x: number, y: number, style: Style): number {
  ctx.save();
  ctx.setFont(style.font ?? LETTERS, `${style.size}px`, style.weight ?? 'normal');
  ctx.setFillStyle(style.fill ?? INK);
  const { width } = ctx.measureText(said);
  ctx.fillText(said, style.align === 'middle' ? x - width / 2 : x, y);
  ctx.restore();
  return width;
}

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

/** What each head stands for: a short staff with it, and its name below. */
function drawLegend(
  ctx: RenderContext,
  row: ChartPage['legend'][number],
  { notation, left, top, wide }: At & { wide: number },
): void {
  const each = wide / Math.max(row.length, 7);
  row.forEach(({ piece, articulation, name, mark }, i) => {
    const x = left + i * each;
    const stave = new Stave(x, top - SPACE, each, {
      leftBar: i === 0,
      rightBar: i === row.length - 1,
    });
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
    // All stems up: those of feet would stand in the names.
    const note = singleNote(stroke, notation.kit).setStemDirection(Stem.UP);
    const voice = new Voice({ numBeats: 1, beatValue: 4 }).addTickables([note]);
    new Formatter().joinVoices([voice]).format([voice], 10);
    // Parentheses and accents go along with where notes begin, not with a shift of the note.
    stave.setNoteStartX(stave.getNoteStartX() + each / 2 - 26);
    voice.draw(ctx, stave);
    const lines = name.split(', ');
    lines.forEach((line, n) =>
      words(ctx, line, x + each / 2, top + 10 * SPACE + n * 12, {
        size: 11,
        align: 'middle',
        fill: n === 0 ? INK : SOFT,
      }),
    );
  });
}

function drawSystem(
  ctx: RenderContext,
  { cells, lead, courtesy }: System,
  { notation, left, top, after }: At & { after: Cell | undefined },
): void {
  const y = top + (ABOVE - BLANK_LINES) * SPACE;
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
    drawHead(ctx, cell, { x, stave, first });
    drawCell(ctx, cell, stave, notation);
    x += wide;
  });
}

/** Above a bar: the name of a section that begins, the tempo, and the number of the bar. */
function drawHead(
  ctx: RenderContext,
  { bar }: Cell,
  { x, stave, first }: { x: number; stave: Stave; first: boolean },
): void {
  const y = stave.getYForLine(0) - 7.2 * SPACE;
  let at = x;
  if (first) {
    words(ctx, String(bar.index + 1), x, stave.getYForLine(0) - 7, { size: 10, fill: SOFT });
  }
  if (bar.label !== undefined) {
    const width = words(ctx, bar.label, at + 6, y, { size: 14, weight: '600' });
    ctx.save();
    ctx.setLineWidth(1.2);
    ctx.beginPath();
    ctx.rect(at, y - 15, width + 12, 21);
    ctx.stroke();
    ctx.restore();
    at += width + 24;
  }
  const [from, to] = [stave.getNoteStartX(), stave.getNoteEndX()];
  const length = barTicks(bar.meter);
  for (const { at: tick, bpm: counted, glide } of bar.tempos) {
    // A tempo inside a bar stands over where it begins.
    if (tick > 0) at = Math.max(at, from + (tick / length) * (to - from));
    const dotted = pulseTicks(bar.meter) === 1.5 * PPQ;
    const bpm = Math.round((dotted ? counted / 1.5 : counted) * 10) / 10;
    at += words(ctx, SIGN.quarter + (dotted ? SIGN.dot : ''), at, y, { size: 20, font: SIGNS }) + 3;
    at += words(ctx, `= ${bpm}${glide ? ', changing' : ''}`, at, y, { size: 13 }) + 14;
  }
  if (bar.swing !== undefined) words(ctx, bar.swing, at, y, { size: 13 });
}

function drawCell(ctx: RenderContext, cell: Cell, stave: Stave, { kit }: Notation): void {
  const from = stave.getNoteStartX();
  const to = stave.getNoteEndX();
  const middle = (from + to) / 2;
  const line = stave.getYForLine(2);
  switch (cell.kind) {
    case 'notes': {
      const drawn = voicesOf(cell.bar, kit);
      const voices = drawn.map(({ voice }) => voice);
      const formatter = new Formatter();
      voices.forEach((voice) => formatter.joinVoices([voice]));
      formatter.format(voices, Math.max(20, to - from - 1.6 * SPACE));
      voices.forEach((voice) => voice.draw(ctx, stave));
      drawn.forEach(({ beams, tuplets }) => {
        beams.forEach((beam) => beam.setContext(ctx).draw());
        tuplets.forEach((tuplet) => tuplet.setContext(ctx).draw());
      });
      if (cell.bar.fill !== undefined) {
        words(ctx, 'fill', from, stave.getYForLine(0) - 3.8 * SPACE, { size: 11, fill: SOFT });
      }
      break;
    }
    case 'repeat':
      if (cell.like === 1) sign(ctx, SIGN.repeat1, middle, line, 'middle');
      else if (cell.half === 'second') {
        sign(ctx, SIGN.repeat2, stave.getX(), line, 'middle');
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
